package csvlist_test

import (
	"fmt"

	"amberkeystone/formats/csvlist"
)

// A list as a spreadsheet writes it where commas divide numbers.
func ExampleRead() {
	t, err := csvlist.Read([]byte("name;card\r\n\"Reed; Zoe\";42-14001\r\n"))
	fmt.Println(t.Heads, t.Rows, t.Separator, t.Encoding, err)
	// Output:
	// [name card] [[Reed; Zoe 42-14001]] semicolons UTF-8 <nil>
}
