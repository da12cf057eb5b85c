package enum_test

import (
	"fmt"

	"amberkeystone/core/enum"
)

type level uint8

func ExampleTable() {
	levels := enum.Table[level]{{Code: "normal", Words: "at rest"}, {Code: "active", Words: "in use"}}
	fmt.Println(levels.Code(1), levels.Words(1), levels.Code(7))
	var v level
	fmt.Println(levels.Unmarshal([]byte("idle"), &v))
	// Output:
	// active in use 7
	// "idle" is none of normal, active
}
