package cards_test

import (
	"fmt"

	"amberkeystone/core/cards"
)

// A read of the common 26-bit format: an even parity bit over the first half, eight bits of facility code, sixteen of
// card number, an odd parity bit over the second half (common practice).
func ExampleDecode() {
	bits, err := cards.ParseBits("1 00101010 0011000000111001 1")
	if err != nil {
		fmt.Println(err)
		return
	}
	accepts := []cards.Accepts{{Format: &cards.Standard26, Facilities: []uint64{42}}}
	read := cards.Decode(&bits, accepts)
	fmt.Println(read.Facility, read.Number)
	flipped := bits.Flip(20)
	read = cards.Decode(&flipped, accepts)
	fmt.Println(read.Explain(accepts))
	// Output:
	// 42 12345
	// parity of group 2 is wrong: the read is damaged
}
