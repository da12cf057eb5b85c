package sitefile_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/formats/sitefile"
)

// A file that cannot be read is told where, and what to write there.
func TestShapes(t *testing.T) {
	for file, words := range map[string]string{
		"":                                      "site file: it is empty",
		" \n":                                   "site file: it is empty",
		`{"settings":{"name":"x"}`:              "site file: it ends too early; a bracket or a quotation mark is not closed",
		"{\"settings\":{},\n \"sites\":[,]}":    "site file, line 2, column 11: invalid character ',' looking for beginning of value",
		`[]`:                                    "site file: it is a list; write an object",
		`{} {}`:                                 "site file: something follows after its end",
		`{"doors":{}}`:                          "doors: it is an object; write a list",
		`{"doors":[{"name":"D","port":"one"}]}`: "doors[0] (D), port: it is a text; write a whole number",
		`{"doors":[{"port":1.5}]}`:              "doors[0].port: it is a number; write a whole number",
		`{"doors":[{"name":"D","prot":1}]}`:     `doors[0] (D): "prot" is no field of it; take it out, or mend its name`,
		`{"doors":[{"name":"D","port":1e300}]}`: "doors[0] (D), port: 1e300 is far too large",
		`{"facilities":[{"code":-7}]}`:          "facilities[0].code: it is -7; write 0 or more",
		`{"inputs":[{"name":"I","at":"zz"}]}`: `inputs[0] (I), at: "zz" is no terminal; ` +
			`write r1 for a reader, i3 for an input, o2 for an output, 2/o7 for one of the second expander`,
	} {
		_, err := sitefile.Parse([]byte(file), key)
		assert.EqualError(t, err, words, file)
	}
}
