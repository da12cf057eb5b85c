package pass_test

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
)

// A door that asks for a card and a PIN asks a card alone on the way out, where there are no keys.
func ExampleAsks() {
	fmt.Println(pass.Asks(false, true, hours.CardAndPIN))
	fmt.Println(pass.Asks(true, false, hours.CardAndPIN))
	// Output:
	// card and PIN
	// card
}
