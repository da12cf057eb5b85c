package model

import "maps"

// overlay is an immutable map made for small changes: the next one shares all that is large with this one.
type overlay[K comparable, V any] struct {
	base map[K]V
	over map[K]laid[V] // what is different from the base; few
}

type laid[V any] struct {
	value V
	gone  bool
}

// mostLaid is how many differences are carried along before they are worked into a new base.
const mostLaid = 1000

func (o overlay[K, V]) get(k K) (v V, ok bool) {
	if x, laid := o.over[k]; laid {
		return x.value, !x.gone
	}
	v, ok = o.base[k]
	return v, ok
}

// edit begins the next map, to be changed with set and drop until it is shared.
func (o overlay[K, V]) edit() overlay[K, V] {
	if len(o.over) <= mostLaid {
		over := maps.Clone(o.over)
		if over == nil {
			over = map[K]laid[V]{}
		}
		return overlay[K, V]{o.base, over}
	}
	base := make(map[K]V, len(o.base)+len(o.over))
	maps.Copy(base, o.base)
	for k, x := range o.over {
		if x.gone {
			delete(base, k)
			continue
		}
		base[k] = x.value
	}
	return overlay[K, V]{base, map[K]laid[V]{}}
}

func (o overlay[K, V]) set(k K, v V) { o.over[k] = laid[V]{value: v} }
func (o overlay[K, V]) drop(k K)     { o.over[k] = laid[V]{gone: true} }
