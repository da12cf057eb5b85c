package compare

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/site"
)

// Doors are named before floors of elevators, and counted apart from them.
func TestDoorsInWords(t *testing.T) {
	floor := func(n site.ID) site.ID {
		id, ok := site.StopID(9, n)
		require.True(t, ok)
		return id
	}
	n := Naming{
		Name: func(id site.ID) string {
			if _, f, ok := id.Stop(); ok {
				return fmt.Sprintf("floor %d", f)
			}
			return fmt.Sprintf("door %d", id)
		},
		Site: func(door site.ID) (string, int) {
			if door == 7 {
				return "Boathouse", 1
			}
			return "House", 5
		},
	}
	for want, doors := range map[string][]site.ID{
		"door 1":                                 {1},
		"door 1, floor 20 and floor 21":          {floor(20), 1, floor(21)},
		"all doors of House":                     {1, 2, 3, 4, 5},
		"4 doors of House":                       {1, 2, 3, 4},
		"4 doors":                                {1, 2, 3, 7},
		"4 elevator floors of House":             {floor(20), floor(21), floor(22), floor(23)},
		"5 doors and 2 elevator floors of House": {floor(20), 1, 2, 3, 4, 5, floor(21)},
		"1 door and 3 elevator floors of House":  {floor(20), floor(22), floor(21), 4},
		"3 doors and 1 elevator floor":           {floor(20), 1, 2, 7},
	} {
		assert.Equal(t, want, doorsWords(n, doors))
	}
}
