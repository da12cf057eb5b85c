package panel

import (
	"cmp"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
)

// everywhere is the place of what concerns the controller as a whole.
const everywhere = -1

// tell puts a fact into the queue.
func (p *Panel) tell(place int, f pass.Fact) {
	p.do.List = append(p.do.List, pass.Effect{Place: place, Fact: f})
}

// settle works through the queue until nothing is left, then sees when the places that were touched want to be woken
// and what they claim.
func (p *Panel) settle() {
	for k := 0; k < len(p.do.List); k++ {
		switch e := &p.do.List[k]; { // it stays as it is, also where the list moves on
		case e.Show != "":
			p.show(e.Place, e.Out, e.Show)
		case e.Try != nil:
			p.try(e.Place, e.Try)
		case e.Ended != nil:
			p.ended(e.Place, e.Ended)
		case e.Place == everywhere:
			p.log(&e.Fact)
			for i := range p.places {
				p.follow(i, &e.Fact)
			}
			p.listen(&e.Fact)
		default:
			place := p.places[e.Place]
			e.Fact.Door = place.ID
			p.fill(&e.Fact, place)
			p.log(&e.Fact)
			p.follow(e.Place, &e.Fact)
			p.listen(&e.Fact)
		}
	}
	p.do.List = p.do.List[:0]
	for _, i := range p.touched {
		p.dirty[i] = false
		for k, s := range p.places[i].Parts {
			p.agenda.set(i*p.slots+k, s.Wake())
		}
	}
	if p.hear {
		for k, s := range p.common {
			p.agenda.set(len(p.places)*p.slots+k, s.Wake())
		}
	}
	p.settleOutputs()
	p.touched, p.hear = p.touched[:0], false
}

// listen lets what hears every event hear one.
func (p *Panel) listen(f *pass.Fact) {
	switch f.Kind {
	case pass.OutputAsked, pass.OutputLet, pass.AlarmAsked, pass.InputIs:
	default:
		if !f.Kind.Logged() {
			return
		}
	}
	p.hear, p.do.Place = true, everywhere
	for _, s := range p.common {
		s.Follow(f, &p.do)
	}
}

func (p *Panel) touch(i int) {
	if !p.dirty[i] {
		p.dirty[i] = true
		p.touched = append(p.touched, i)
	}
}

func (p *Panel) follow(i int, f *pass.Fact) {
	p.touch(i)
	p.do.Place = i
	for _, s := range p.places[i].Parts {
		s.Follow(f, &p.do)
	}
}

// fill says what the door asked when it happened, where the fact does not say that itself.
func (p *Panel) fill(f *pass.Fact, place *image.Place) {
	now, _ := place.Asks.Now()
	if car := place.Car.Config.Car; car != nil && f.Kind == pass.WasGranted && f.Attempt != nil {
		f.Floors = car.Floors(&f.Attempt.Stops)
	}
	switch {
	case f.Kind == pass.ModeNow || f.Kind == pass.HoldBegan || f.Kind == pass.HoldAsked:
	case f.Attempt == nil:
		f.Mode = now.Mode
	case now.Layer > hours.DatedChange:
		f.Layer = now.Layer // what no plan says of the moment
	}
}

func (p *Panel) log(f *pass.Fact) {
	if !f.Kind.Logged() {
		return
	}
	p.seq++
	f.Seq = p.seq
	p.events = append(p.events, *f)
	p.events[len(p.events)-1].Attempt = nil
}

// try puts an attempt to the gates of its side.
func (p *Panel) try(i int, a *pass.Attempt) {
	t := p.ask(i, a)
	switch {
	case t.Reason.Granted():
		p.say(i, t, pass.WasGranted, pass.ShowGranted)
	case t.Waits && t.Reason == pass.WaitingForMore:
		p.say(i, t, pass.AwaitsMore, pass.ShowMore)
	case t.Waits && t.Reason == pass.Interlocked:
		p.say(i, t, pass.AwaitsDoor, pass.ShowWait)
	case t.Waits:
		p.say(i, t, pass.AwaitsPIN, pass.ShowPIN)
	case t.Reason == pass.KeypadLocked:
		p.say(i, t, pass.WasRefused, pass.ShowLocked)
	default:
		p.say(i, t, pass.WasRefused, pass.ShowRefused)
	}
}

// ended refuses an attempt that was begun and not finished.
func (p *Panel) ended(i int, a *pass.Attempt) {
	t := p.ask(i, a)
	t.Reason = cmp.Or(a.Ends, pass.Timeout)
	f := t.Describe(pass.WasRefused, p.places[i].ID)
	f.Note = a.Note
	p.tell(i, f)
}

// asked is a pass that was put to the gates, with its trace.
type asked struct {
	pass.Pass
	pass.Trace
}

// ask puts an attempt to the gates. The pass is good until the step ends: what follows it copies what it keeps.
func (p *Panel) ask(i int, a *pass.Attempt) *pass.Pass {
	if p.asking == len(p.passes) {
		p.passes = append(p.passes, new(asked))
	}
	both := p.passes[p.asking]
	p.asking++
	*both = asked{}
	place := p.places[i]
	t := &both.Pass
	t.Request, t.Number, t.Trace = a.Request, a.Number, &both.Trace
	now, _ := place.Asks.Now()
	t.Mode, t.Levels, t.Overrides = now.Mode, now.Levels, now.Overrides
	place.Side(a.Out).Decide(t)
	return t
}

func (p *Panel) say(i int, t *pass.Pass, kind pass.Kind, show pass.Feedback) {
	p.tell(i, t.Describe(kind, p.places[i].ID))
	p.show(i, t.Out, show)
}
