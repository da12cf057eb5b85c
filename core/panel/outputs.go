package panel

import (
	"maps"
	"slices"

	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/rules/keypad"
	"amberkeystone/core/site"
)

// want is what the claimants of a touched place say of one output.
type want struct {
	out point.Address
	point.Claims
}

// settleOutputs works out what the outputs of the touched places should be, and gives the differences, those of a place
// in the order of their addresses.
func (p *Panel) settleOutputs() {
	for _, i := range p.touched {
		p.wants = p.wants[:0]
		for _, c := range p.claimants[i] {
			c.Claim(p.claim)
		}
		for k := range p.wants {
			p.drive(p.wants[k].out, p.wants[k].On())
		}
	}
	if len(p.touched) > 0 || p.hear {
		p.settleNamed()
	}
}

// settleNamed turns the named outputs on and off that tell of doors, and those that reactions want something of.
func (p *Panel) settleNamed() {
	p.wants = p.wants[:0]
	for _, s := range p.common {
		if c, ok := s.Part.(pass.Claimant); ok {
			c.Claim(p.claim)
		}
	}
	for i := range p.c.Outputs {
		o := &p.c.Outputs[i]
		if k, found := p.wanting(o.At); found {
			p.drive(o.At, p.wants[k].On())
			continue
		}
		if o.When == site.ByHand {
			p.drive(o.At, false)
			continue
		}
		p.drive(o.At, slices.ContainsFunc(p.places, func(place *image.Place) bool {
			return (len(o.DoorIDs) == 0 || slices.Contains(o.DoorIDs, place.ID)) && p.occasion(o.When, place)
		}))
	}
}

// occasion reports whether a door gives a reason for an output to be on.
func (p *Panel) occasion(when site.OutputWhen, place *image.Place) bool {
	switch when {
	case site.WhenAlarm:
		return place.Door.Alarm() == pass.Forced || place.Door.Alarm() == pass.HeldOpen
	case site.WhenWarning:
		return place.Door.Alarm() == pass.HeldWarning || place.Door.Alarm() == pass.HeldOpen
	case site.WhenReleased:
		return p.told[place.Door.Config.Wired().Lock]
	}
	return false
}

// endPulses ends what was tried for long enough, in the order of addresses.
func (p *Panel) endPulses() {
	for _, at := range slices.SortedFunc(maps.Keys(p.pulses), point.Address.Compare) {
		if p.pulses[at] <= p.now {
			delete(p.pulses, at)
			p.drive(at, p.wanted[at])
		}
	}
}

func (p *Panel) takeClaim(out point.Address, rank point.Rank, on bool) {
	if out == (point.Address{}) { // of a door that is out of use
		return
	}
	k, found := p.wanting(out)
	if !found {
		p.wants = slices.Insert(p.wants, k, want{out: out})
	}
	p.wants[k].Say(rank, on)
}

// wanting is where the claims of an output stand.
func (p *Panel) wanting(out point.Address) (int, bool) {
	return slices.BinarySearchFunc(p.wants, out, func(w want, a point.Address) int { return w.out.Compare(a) })
}

// drive tells an output what it should do, unless it does already. One that is tried is on.
func (p *Panel) drive(at point.Address, on bool) {
	p.wanted[at] = on
	if _, tried := p.pulses[at]; tried {
		on = true
	}
	if p.told[at] == on {
		return
	}
	p.told[at] = on
	p.outputs = append(p.outputs, Output{Point: at, On: on})
}

// lockUnused turns off the outputs that no door has any more, in their order.
func (p *Panel) lockUnused() {
	used := map[point.Address]bool{}
	for i := range p.c.Doors {
		d := &p.c.Doors[i]
		used[d.Wired().Lock] = true
		if d.Car != nil && !d.OutOfUse {
			for _, s := range d.Car.Stops {
				at, _ := d.Car.Relay(s.Relay)
				used[at] = true
			}
		}
	}
	for i := range p.c.Outputs {
		used[p.c.Outputs[i].At] = true
	}
	for _, at := range slices.SortedFunc(maps.Keys(p.told), point.Address.Compare) {
		if !used[at] {
			p.drive(at, false)
		}
	}
}

// show lets the reader of a side show something.
func (p *Panel) show(place int, out bool, what pass.Feedback) {
	w := p.c.Doors[place].Terminals()
	at := w.In
	if out {
		at = w.Out
	}
	p.outputs = append(p.outputs, Output{Point: at, Show: what})
	if d := &p.c.Doors[place]; d.Car != nil && d.Out.Fitted { // both readers in the car show it
		p.outputs = append(p.outputs, Output{Point: w.Out, Show: what})
	}
}

// DoorState is what a controller can tell of a door.
type DoorState struct {
	Port        int              `json:"port"`
	Door        site.ID          `json:"door"`
	Mode        hours.Mode       `json:"mode"`
	Until       hours.Instant    `json:"until,omitempty"` // when it asks something else; 0: never
	Released    bool             `json:"released"`
	Open        bool             `json:"open"`
	Alarm       string           `json:"alarm,omitempty"`
	Waits       bool             `json:"waits,omitempty"`       // for its first card
	Layer       hours.Layer      `json:"layer,omitempty"`       // that decides
	Keypad      hours.Instant    `json:"keypad,omitempty"`      // its keypad is locked until then
	LockedCards []keypad.Locked  `json:"lockedCards,omitempty"` // by wrong PINs there
	Awaiting    *Awaiting        `json:"awaiting,omitempty"`    // an operator has the last word on them; nil: nobody
	Emergencies []site.ID        `json:"emergencies,omitempty"` // lockdowns and fire releases that are on; 0: by hand
	Held        *Held            `json:"held,omitempty"`        // by an operator; nil: not
	Floors      []elevator.Floor `json:"floors,omitempty"`      // of a car, the lowest first
	Loud        hours.Instant    `json:"loud,omitempty"`        // its log tells of relays until then
}

// Held is a hold as a controller tells of it.
type Held struct {
	Mode  hours.Mode    `json:"mode"`
	Since hours.Instant `json:"since"`
	Until hours.Instant `json:"until,omitempty"` // 0: until it is ended
	By    string        `json:"by,omitempty"`    // who, and why
}

// Awaiting is people who have filled a combination, and on whom an operator has the last word.
type Awaiting struct {
	People []site.ID     `json:"people"`
	Until  hours.Instant `json:"until"` // then they begin anew
}

// AlarmAreas tells what the alarm areas are in.
func (p *Panel) AlarmAreas() []alarmarea.Now {
	for _, s := range p.common {
		if w, ok := s.Part.(*alarmarea.Watch); ok {
			return w.Now()
		}
	}
	return nil
}

// Doors returns the state of every door.
func (p *Panel) Doors() []DoorState {
	out := make([]DoorState, len(p.places))
	for i, place := range p.places {
		d := place.Door
		now, until := place.Asks.Now()
		out[i] = DoorState{
			Port: d.Config.Port, Door: place.ID, Mode: now.Mode, Until: until.OrZero(),
			Released: p.told[d.Config.Wired().Lock], Open: d.Open(), Waits: now.Waits, Layer: now.Layer,
		}
		if until := max(place.Keys[0].Until, place.Keys[1].Until); until > p.now {
			out[i].Keypad = until
		}
		out[i].Emergencies = place.Emergencies()
		out[i].LockedCards = place.LockedCards(p.now)
		if people, until := place.Awaiting(); people != nil {
			out[i].Awaiting = &Awaiting{people, until}
		}
		if h := place.Hold; h.On {
			out[i].Held = &Held{h.Mode, h.Since, h.Until, h.By}
		}
		out[i].Floors, out[i].Loud = place.Car.Floors(p.now), place.Car.Loud
		if k := d.Alarm(); k != 0 {
			out[i].Alarm = k.String()
		}
	}
	return out
}
