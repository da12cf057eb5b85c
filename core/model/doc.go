// Package model is a configuration as it is now: an immutable Snapshot, from which the next one is made by applying
// what a commit changed. A change costs what it touches: lists are copied only where something in them changed, people
// are pointers, indexes are laid over those before, and the hours are worked out anew only where they depend on it.
//
// Reading order: kind.go (what there is to know of a kind of object), kinds.go (the kinds), snapshot.go, overlay.go.
package model
