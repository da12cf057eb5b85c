package point

// Board is how many terminals of each kind a controller or an expander has.
type Board struct{ Readers, Inputs, Outputs int }

// Count returns how many terminals of a kind it has.
func (b Board) Count(k Kind) int {
	switch k {
	case Reader:
		return b.Readers
	case Input:
		return b.Inputs
	case Output:
		return b.Outputs
	}
	return 0
}

// Terminals lists its terminals as board number n: readers, inputs, outputs.
func (b Board) Terminals(n uint8) []Address {
	out := make([]Address, 0, b.Readers+b.Inputs+b.Outputs)
	for _, k := range []Kind{Reader, Input, Output} {
		for i := range b.Count(k) {
			out = append(out, Address{Board: n, Kind: k, Number: uint16(i + 1)})
		}
	}
	return out
}
