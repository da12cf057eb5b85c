package e2e

import "amberkeystone/core/cards"

func encode(facility, number uint64) (cards.Bits, error) {
	return cards.Standard26.Encode(facility, number)
}
