package panel

import "amberkeystone/core/hours"

// agenda is a heap of parts by when they are next to be woken, with each one's place in it. Of equal instants the part
// that was laid out first is first.
type agenda struct {
	at   []hours.Instant
	heap []int32
	pos  []int32
}

func newAgenda(n int) agenda {
	w := agenda{at: make([]hours.Instant, n), heap: make([]int32, n), pos: make([]int32, n)}
	for i := range n {
		w.at[i], w.heap[i], w.pos[i] = hours.Never, int32(i), int32(i)
	}
	return w
}

func (w *agenda) first() (part int, at hours.Instant) {
	if len(w.heap) == 0 {
		return -1, hours.Never
	}
	return int(w.heap[0]), w.at[w.heap[0]]
}

func (w *agenda) set(part int, at hours.Instant) {
	was := w.at[part]
	w.at[part] = at
	if at < was {
		w.up(int(w.pos[part]))
	} else if at > was {
		w.down(int(w.pos[part]))
	}
}

// less orders by time, then by place, so that equal inputs give equal events.
func (w *agenda) less(i, j int) bool {
	a, b := w.heap[i], w.heap[j]
	if w.at[a] != w.at[b] {
		return w.at[a] < w.at[b]
	}
	return a < b
}

func (w *agenda) swap(i, j int) {
	w.heap[i], w.heap[j] = w.heap[j], w.heap[i]
	w.pos[w.heap[i]], w.pos[w.heap[j]] = int32(i), int32(j)
}

func (w *agenda) up(i int) {
	for i > 0 && w.less(i, (i-1)/2) {
		w.swap(i, (i-1)/2)
		i = (i - 1) / 2
	}
}

func (w *agenda) down(i int) {
	for {
		c := 2*i + 1
		if c >= len(w.heap) {
			return
		}
		if c+1 < len(w.heap) && w.less(c+1, c) {
			c++
		}
		if !w.less(c, i) {
			return
		}
		w.swap(i, c)
		i = c
	}
}
