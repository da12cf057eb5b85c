package compare

import mathbits "math/bits"

// bits is a set of small numbers.
type bits []uint64

func newBits(n int) bits      { return make(bits, (n+63)/64) }
func (b bits) set(n int)      { b[n>>6] |= 1 << (n & 63) }
func (b bits) has(n int) bool { return b[n>>6]>>(n&63)&1 == 1 }
func (b bits) add(o bits) {
	for i, w := range o {
		b[i] |= w
	}
}
func (b bits) addCommon(x, y bits) {
	for i := range b {
		b[i] |= x[i] & y[i]
	}
}

// all yields the numbers in the set, ascending.
func (b bits) all(yield func(int) bool) {
	for i, w := range b {
		for ; w != 0; w &= w - 1 {
			if !yield(i<<6 + mathbits.TrailingZeros64(w)) {
				return
			}
		}
	}
}

// without reports whether anything is in b that is not in o.
func (b bits) without(o bits) bool {
	for i, w := range b {
		if w&^o[i] != 0 {
			return true
		}
	}
	return false
}
