package panel

import "amberkeystone/core/hours"

// wakes is a heap of doors by when they next have something to do, with each door's place in it.
type wakes struct {
	at   []hours.Instant
	heap []int32
	pos  []int32
}

func newWakes(n int) wakes {
	w := wakes{at: make([]hours.Instant, n), heap: make([]int32, n), pos: make([]int32, n)}
	for i := range n {
		w.at[i], w.heap[i], w.pos[i] = hours.Never, int32(i), int32(i)
	}
	return w
}

func (w *wakes) first() (door int, at hours.Instant) {
	if len(w.heap) == 0 {
		return -1, hours.Never
	}
	return int(w.heap[0]), w.at[w.heap[0]]
}

func (w *wakes) set(door int, at hours.Instant) {
	was := w.at[door]
	w.at[door] = at
	if at < was {
		w.up(int(w.pos[door]))
	} else if at > was {
		w.down(int(w.pos[door]))
	}
}

// less orders by time, then by door, so that equal inputs give equal events.
func (w *wakes) less(i, j int) bool {
	a, b := w.heap[i], w.heap[j]
	if w.at[a] != w.at[b] {
		return w.at[a] < w.at[b]
	}
	return a < b
}

func (w *wakes) swap(i, j int) {
	w.heap[i], w.heap[j] = w.heap[j], w.heap[i]
	w.pos[w.heap[i]], w.pos[w.heap[j]] = int32(i), int32(j)
}

func (w *wakes) up(i int) {
	for i > 0 && w.less(i, (i-1)/2) {
		w.swap(i, (i-1)/2)
		i = (i - 1) / 2
	}
}

func (w *wakes) down(i int) {
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
