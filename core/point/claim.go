package point

// Rank is the place of a claimant of outputs; the highest that says something has the output.
type Rank uint8

// The ranks, lowest first (design 4.2).
const (
	Reaction    Rank = iota // when this happens here, do that there
	Door                    // what a door wants of its lock
	Lockdown                // held, whatever else is wanted
	FireRelease             // let go for escape, above everything
	ranks
)

// Claims are what claimants of one output want. The zero value wants nothing.
type Claims struct{ said, on [ranks]bool }

// Say takes a claim; the last of a rank counts.
func (c *Claims) Say(r Rank, on bool) { c.said[r], c.on[r] = true, on }

// On returns what the output should be: as the highest claimant wants, off where there is none.
func (c *Claims) On() bool {
	for r := int(ranks) - 1; r >= 0; r-- {
		if c.said[r] {
			return c.on[r]
		}
	}
	return false
}
