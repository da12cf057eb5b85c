// Package access decides whether a credential may pass a reader at an instant, and why: a Table holds what a controller
// knows of cards, people, levels and hours, and its gates answer in the order of design 3.5. What else must hold at a
// door (a locked keypad, a first card …) is a rule with a gate of its own, laid out between these by package image.
//
// Reading order: table.go, gates.go, levels.go.
package access
