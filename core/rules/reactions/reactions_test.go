package reactions

import (
	"testing"

	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/internal/partsuite"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

func TestPart(t *testing.T) {
	always := hours.CompileWeek(hours.Always())
	local := hours.Local{Zone: &hours.Zone{Name: "UTC"}}
	lamp := []point.Address{point.At(point.Output, 5)}
	rule := func(id site.ID, when pass.Kind, do site.Doing, seconds int) *Rule {
		x := site.Reaction{ID: id, Do: do, Seconds: seconds}
		r := RuleOf(&x, &always, local)
		r.When, r.Outputs = when, lamp
		return r
	}
	partsuite.Suite{
		New: func() pass.Part {
			return New([]*Rule{rule(1, pass.InputActive, site.DoOn, 0), rule(2, pass.InputRest, site.DoOff, 0),
				rule(3, pass.MainsLost, site.DoOn, 20), rule(4, pass.MainsBack, site.DoOff, 7)}, func(site.ID) bool { return true })
		},
		Draw: func(t *rapid.T) pass.Fact {
			f := pass.Fact{
				Kind: rapid.SampledFrom([]pass.Kind{
					pass.InputActive, pass.InputRest, pass.MainsLost, pass.MainsBack, pass.OutputAsked, pass.OutputLet,
				}).Draw(t, "kind"),
				Point: "o5",
			}
			if f.Kind == pass.OutputAsked || f.Kind == pass.OutputLet {
				f.Active, f.Rule = f.Kind == pass.OutputAsked, site.ID(rapid.SampledFrom([]int{0, 98, 99}).Draw(t, "rule"))
			}
			return f
		},
	}.Run(t)
}
