package hours

import "math/bits"

// mask holds one bit for each minute of a local day.
type mask [23]uint64

func (m *mask) has(minute int) bool { return m[minute>>6]>>(minute&63)&1 != 0 }

// set turns on the minutes [lo, hi).
func (m *mask) set(lo, hi int) {
	for i := lo; i < hi; {
		if i&63 == 0 && hi-i >= 64 {
			m[i>>6] = ^uint64(0)
			i += 64
			continue
		}
		m[i>>6] |= 1 << (i & 63)
		i++
	}
}

func (m *mask) count() int {
	n := 0
	for _, w := range m {
		n += bits.OnesCount64(w)
	}
	return n
}

// edge returns the first minute after the given one at which the bit of either mask differs, or 1440.
func edge(m, n *mask, minute int) int {
	flip := uint64(0)
	if m.has(minute) || n.has(minute) {
		flip = ^uint64(0)
	}
	at := minute + 1
	if at >= DayMinutes {
		return DayMinutes
	}
	word := at >> 6
	w := ((m[word] | n[word]) ^ flip) >> (at & 63) << (at & 63)
	for {
		if w != 0 {
			return min(word<<6+bits.TrailingZeros64(w), DayMinutes)
		}
		word++
		if word == len(m) {
			return DayMinutes
		}
		w = (m[word] | n[word]) ^ flip
	}
}
