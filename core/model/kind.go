package model

import (
	"cmp"
	"encoding/json"
	"fmt"
	"iter"
	"reflect"
	"slices"

	"amberkeystone/core/site"
)

// Ref is what a field of an object points to; an ID of 0 is nothing.
type Ref struct {
	Field string
	Kind  string // the word of the kind that it has to be
	ID    site.ID
}

// Kind is one kind of object of a configuration: all that is to be known to keep it, change it and find it. Objects are
// passed as pointers to their type.
type Kind interface {
	// Word names the kind, as the history and files do.
	Word() string
	// New returns an empty object.
	New() any
	// ID returns where an object keeps its number.
	ID(o any) *site.ID
	Name(o any) string
	// Scope returns within what names are unique; 0: everywhere.
	Scope(o any) site.ID
	Refs(o any) []Ref
	// Decode reads a document. Lists that were never written are empty, so that readers need not tell them apart.
	Decode(id site.ID, body []byte) (any, error)
	// Objects lists those of a configuration, by their number.
	Objects(c *site.Config) []any
	// Named yields those of a configuration by their numbers, with their names.
	Named(c *site.Config) iter.Seq2[site.ID, string]
	// Append adds an object to a configuration that is being read, in the order of numbers.
	Append(c *site.Config, o any)
	// put and remove change a configuration. Its list is copied, so that what others hold stays as it is, unless it is
	// the configuration's own: copied since they got theirs.
	put(c *site.Config, o any, own bool)
	remove(c *site.Config, id site.ID, own bool)
}

// kind describes one type of object. Refs, scope and fill may be left out; all but the settings have a list, of values
// in list or, where they are many, of pointers in many.
type kind[T any] struct {
	word  string
	list  func(*site.Config) *[]T
	many  func(*site.Config) *[]*T
	one   func(*site.Config) *T // of which there is one
	id    func(*T) *site.ID
	name  func(*T) string
	scope func(*T) site.ID
	refs  func(*T) []Ref
	fill  func(*T)
}

func (k *kind[T]) Word() string      { return k.word }
func (k *kind[T]) New() any          { return new(T) }
func (k *kind[T]) ID(o any) *site.ID { return k.id(o.(*T)) }
func (k *kind[T]) Name(o any) string { return k.name(o.(*T)) }

func (k *kind[T]) Scope(o any) site.ID {
	if k.scope == nil {
		return 0
	}
	return k.scope(o.(*T))
}

func (k *kind[T]) Refs(o any) []Ref {
	if k.refs == nil {
		return nil
	}
	return k.refs(o.(*T))
}

func (k *kind[T]) Decode(id site.ID, body []byte) (any, error) {
	o := new(T)
	if err := json.Unmarshal(body, o); err != nil {
		return nil, fmt.Errorf("%s %d: %w", k.word, id, err)
	}
	*k.id(o) = id
	if k.fill != nil {
		k.fill(o)
	}
	return o, nil
}

func (k *kind[T]) Objects(c *site.Config) []any {
	var out []any
	switch {
	case k.one != nil:
		out = append(out, k.one(c))
	case k.many != nil:
		for _, o := range *k.many(c) {
			out = append(out, o)
		}
	default:
		list := *k.list(c)
		for i := range list {
			out = append(out, &list[i])
		}
	}
	return out
}

func (k *kind[T]) Named(c *site.Config) iter.Seq2[site.ID, string] {
	return func(yield func(site.ID, string) bool) {
		switch {
		case k.one != nil: // it has no number
		case k.many != nil:
			for _, o := range *k.many(c) {
				if !yield(*k.id(o), k.name(o)) {
					return
				}
			}
		default:
			list := *k.list(c)
			for i := range list {
				if !yield(*k.id(&list[i]), k.name(&list[i])) {
					return
				}
			}
		}
	}
}

func (k *kind[T]) Append(c *site.Config, o any) {
	x := o.(*T)
	switch {
	case k.one != nil:
		*k.one(c) = *x
	case k.many != nil:
		list := k.many(c)
		*list = append(*list, x)
	default:
		list := k.list(c)
		*list = append(*list, *x)
	}
}

func (k *kind[T]) put(c *site.Config, o any, own bool) {
	x := o.(*T)
	switch {
	case k.one != nil:
		*k.one(c) = *x
	case k.many != nil:
		list := k.many(c)
		*list = placed(mine(*list, own), x, func(a *T) site.ID { return *k.id(a) })
	default:
		list := k.list(c)
		*list = placed(mine(*list, own), *x, func(a T) site.ID { return *k.id(&a) })
	}
}

func (k *kind[T]) remove(c *site.Config, id site.ID, own bool) {
	switch {
	case k.one != nil:
	case k.many != nil:
		list := k.many(c)
		*list = without(mine(*list, own), id, func(a *T) site.ID { return *k.id(a) })
	default:
		list := k.list(c)
		*list = without(mine(*list, own), id, func(a T) site.ID { return *k.id(&a) })
	}
}

// find returns where an object of a number stands in a list that is sorted by it, or would.
func find[E any](list []E, id site.ID, of func(E) site.ID) (int, bool) {
	return slices.BinarySearchFunc(list, id, func(e E, id site.ID) int { return cmp.Compare(of(e), id) })
}

// mine is a list to be changed: itself where it is one's own.
func mine[E any](list []E, own bool) []E {
	if own {
		return list
	}
	return slices.Clone(list)
}

// placed puts an object into its place in a list.
func placed[E any](list []E, e E, of func(E) site.ID) []E {
	i, there := find(list, of(e), of)
	if there {
		list[i] = e
		return list
	}
	return slices.Insert(list, i, e)
}

// without takes an object out of a list.
func without[E any](list []E, id site.ID, of func(E) site.ID) []E {
	i, there := find(list, id, of)
	if !there {
		return list
	}
	if len(list) == 1 {
		return nil // as one that never had any
	}
	return slices.Delete(list, i, i+1)
}

// ByWord finds a kind by its word, or nil.
func ByWord(word string) Kind { return byWord[word] }

// Of returns the kind of an object, given as a pointer. It panics where there is none: that is a mistake in the
// program.
func Of(o any) Kind {
	k, ok := byType[reflect.TypeOf(o)]
	if !ok {
		panic(fmt.Sprintf("model: %T is not part of the configuration", o))
	}
	return k
}

var byWord, byType = func() (map[string]Kind, map[reflect.Type]Kind) {
	words, types := map[string]Kind{}, map[reflect.Type]Kind{}
	for _, k := range Kinds {
		words[k.Word()] = k
		types[reflect.TypeOf(k.New())] = k
	}
	return words, types
}()
