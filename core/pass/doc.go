// Package pass is one person's attempt at one side of one door, and the three shapes that everything about it takes:
//
//   - a Gate answers whether a pass may go on; it looks and changes nothing. All gates of a side are asked in one order
//     (design 3.5), and the first that says no gives the reason;
//   - a Fact is something that has happened at a place; most are lines of the controller's log;
//   - a Part follows the facts of its place, tells facts of its own, and says when to wake it.
//
// A pass is asked, then refused, or granted and after that gone through or not taken; in between it may wait for more,
// such as a PIN. It ends exactly once (State.Next). Several may be under way at one door.
//
// Reading order: pass.go, gate.go, fact.go, part.go; the reasons and kinds are tables in reason.go and kind.go.
package pass
