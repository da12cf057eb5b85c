package pass

import "amberkeystone/core/hours"

// Verdict is what a gate says of a pass. The zero value is Yes.
type Verdict struct {
	Reason Reason        // why not; NoReason: the pass may go on
	Until  hours.Instant // when the gate may say something else, where it knows; 0 otherwise
	Waits  bool          // the pass is not refused: it waits for more, such as a PIN
}

// Yes lets a pass go on.
var Yes = Verdict{}

// No refuses a pass, until an instant where that is known.
func No(r Reason, until hours.Instant) Verdict { return Verdict{Reason: r, Until: until} }

// WaitFor lets a pass wait for what the reason names.
func WaitFor(r Reason) Verdict { return Verdict{Reason: r, Waits: true} }

// Gate is one check. It may write what it found into the pass, and a line into its trace; it changes nothing else, so
// that asking twice gives the same answer.
type Gate interface{ Check(p *Pass) Verdict }

// Gates are the checks of one side of a door, in the order of design 3.5.
type Gates []Gate

// Decide asks the gates in their order and stops at the first that says no. What was found of an earlier asking is
// forgotten. It does not allocate.
func (g Gates) Decide(p *Pass) Reason {
	p.Decision = Decision{Last: hours.Never}
	for _, gate := range g {
		if v := gate.Check(p); v.Reason != NoReason {
			p.Reason, p.Waits = v.Reason, v.Waits
			return v.Reason
		}
	}
	switch {
	case p.Asks() == hours.Free:
		p.Reason = GrantedFree
	case p.Duress:
		p.Reason = GrantedDuress
	case p.Uncleared:
		p.Reason = GrantedNotCleared
	case p.Soft:
		p.Reason = GrantedPassback
	default:
		p.Reason = Granted
	}
	return p.Reason
}
