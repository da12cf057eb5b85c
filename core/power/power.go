// Package power reckons whether the locks of a supply get what they need: the resistance of the cable, the voltage that
// is left at each lock, the current of all, and how long a battery lasts. See Check first.
package power

import (
	"fmt"
	"math"

	"amberkeystone/core/site"
)

// resistivity is that of copper at 20 °C in ohm metres (International Annealed Copper Standard).
const resistivity = 1.7241e-8

// OhmsPerMetre returns the resistance of one solid copper wire of an American gauge at 20 °C: its diameter is
// 0.127 mm · 92^((36−n)/39) (ASTM B258).
func OhmsPerMetre(gauge int) float64 {
	d := 0.127e-3 * math.Pow(92, float64(36-gauge)/39)
	return resistivity / (math.Pi / 4 * d * d)
}

// usable is how much of a battery's capacity is reckoned with (common practice).
const usable = 0.8

// usualTolerance is how far below its voltage a lock is taken to work where nobody says it, in percent.
const usualTolerance = 10

// Lock is one lock on a supply.
type Lock struct {
	DoorID    site.ID `json:"doorId"`
	Name      string  `json:"name"`
	Milliamps int     `json:"milliamps"`
	Metres    int     `json:"metres" doc:"One way"`
	Gauge     int     `json:"gauge" doc:"AWG"`
	Ohms      float64 `json:"ohms" doc:"Of the cable, there and back"`
	Drop      float64 `json:"drop" doc:"Volts lost on the cable"`
	AtLock    float64 `json:"atLock" doc:"Volts that are left"`
	Least     float64 `json:"least" doc:"Volts that it needs"`
	Words     string  `json:"words" doc:"The sum, or what is missing for it"`
	Known     bool    `json:"known" doc:"Everything that the sum needs is there"`
	Enough    bool    `json:"enough"`
}

// Report is what a supply gives and what is asked of it.
type Report struct {
	SupplyID site.ID `json:"supplyId"`
	Name     string  `json:"name"`
	Locks    []Lock  `json:"locks"`
	Peak     int     `json:"peak" doc:"Milliamps when every lock draws"`
	Rest     int     `json:"rest" doc:"Milliamps at rest: fail-safe locks draw all the time"`
	Gives    int     `json:"gives" doc:"Milliamps at the most"`
	Enough   bool    `json:"enough" doc:"It gives the peak, and every lock gets its voltage"`
	Hours    float64 `json:"hours" doc:"On the battery, at rest; 0: no battery, or nothing draws"`
	Words    string  `json:"words"`
}

// Check does the sums of a supply.
func Check(c *site.Config, s *site.Supply) Report {
	r := Report{SupplyID: s.ID, Name: s.Name, Locks: []Lock{}, Gives: s.Milliamps, Enough: true}
	for i := range c.Doors {
		d := &c.Doors[i]
		if d.SupplyID != s.ID {
			continue
		}
		l := lock(d, s)
		r.Peak += d.Milliamps
		if d.FailSafe {
			r.Rest += d.Milliamps
		}
		r.Enough = r.Enough && (l.Enough || !l.Known)
		r.Locks = append(r.Locks, l)
	}
	r.Enough = r.Enough && r.Peak <= s.Milliamps
	r.Words = fmt.Sprintf("%d mA when every lock draws, %d mA at most", r.Peak, s.Milliamps)
	if r.Peak > s.Milliamps {
		r.Words += fmt.Sprintf(": %d mA too little", r.Peak-s.Milliamps)
	}
	if s.Battery > 0 && r.Rest > 0 {
		r.Hours = usable * float64(s.Battery) / 10 / (float64(r.Rest) / 1000)
		r.Words += fmt.Sprintf("; %.1f Ah · %.0f %% ÷ %.2f A at rest = %.1f h on the battery",
			float64(s.Battery)/10, usable*100, float64(r.Rest)/1000, r.Hours)
	}
	return r
}

// lock does the sum of one lock: the drop is current times twice the length times the resistance of a metre.
func lock(d *site.Door, s *site.Supply) Lock {
	l := Lock{DoorID: d.ID, Name: d.Name, Milliamps: d.Milliamps, Metres: d.Metres, Gauge: d.Gauge, Enough: true}
	tolerance := d.Tolerance
	if tolerance == 0 {
		tolerance = usualTolerance
	}
	volts := d.Volts
	if volts == 0 {
		volts = s.Volts
	}
	l.Least = float64(volts) * (1 - float64(tolerance)/100)
	for _, m := range []struct {
		missing bool
		what    string
	}{{d.Milliamps == 0, "what the lock draws"}, {d.Metres == 0, "the length of the cable"},
		{d.Gauge == 0, "the gauge of the wire"}} {
		if m.missing {
			l.AtLock, l.Words = float64(s.Volts), m.what+" is not entered"
			return l
		}
	}
	l.Known = true
	l.Ohms = 2 * float64(d.Metres) * OhmsPerMetre(d.Gauge)
	l.Drop = float64(d.Milliamps) / 1000 * l.Ohms
	l.AtLock = float64(s.Volts) - l.Drop
	l.Enough = l.AtLock >= l.Least
	l.Words = fmt.Sprintf("%d V − %.2f A · 2 · %d m · %.1f Ω/km = %.2f V, needs %.1f V",
		s.Volts, float64(d.Milliamps)/1000, d.Metres, 1000*OhmsPerMetre(d.Gauge), l.AtLock, l.Least)
	return l
}
