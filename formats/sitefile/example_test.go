package sitefile_test

import (
	"fmt"

	"amberkeystone/formats/sitefile"
)

// Names stand for what they name; one that names nothing is told with its place.
func ExampleParse() {
	const text = `{"sites": [{"name": "House", "zone": "America/Halifax", "floors": [{"name": "Ground"}]}],
		"controllers": [{"name": "Riser", "site": "House", "serial": "AK-2001"}],
		"plans": [{"name": "Card", "otherwise": "card"}],
		"doors": [{"name": "Gate", "site": "House", "floor": "Ground", "controller": "Riser", "port": 1, "plan": "%s"}]}`
	c, err := sitefile.Parse([]byte(fmt.Sprintf(text, "Card")), nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(c.Doors[0].Name, c.Doors[0].Unlock)
	_, err = sitefile.Parse([]byte(fmt.Sprintf(text, "Cards")), nil)
	fmt.Println(err)
	// Output:
	// Gate 5
	// door Gate: there is no plan "Cards"
}
