package site

import "slices"

// Supply is a power supply that feeds locks.
type Supply struct {
	ID        ID     `json:"id"`
	Name      string `json:"name"`
	SiteID    ID     `json:"siteId"`
	Volts     int    `json:"volts"`
	Milliamps int    `json:"milliamps" doc:"What it gives at the most"`
	// Battery is in tenths of an ampere-hour; 0: there is none.
	Battery int `json:"battery" doc:"Tenths of an ampere-hour; 0: none"`
}

// Check says what is wrong with a supply.
func (s Supply) Check() Faults {
	var fs Faults
	fs.name(s.Name)
	fs.add(s.SiteID == 0, "siteId", "choose the site it is at")
	fs.within("Supply.volts", "volts", s.Volts)
	fs.within("Supply.milliamps", "milliamps", s.Milliamps)
	fs.within("Supply.battery", "battery", s.Battery)
	return fs
}

// Cable leads from a supply to a lock.
type Cable struct {
	Metres int `json:"metres,omitempty" doc:"Length of the cable to the lock, one way; 0: not known"`
	Gauge  int `json:"gauge,omitempty" doc:"Of its wires, AWG (ASTM B258); 0: not known"`
}

// Gauges are the wires that are reckoned with.
var Gauges = []int{12, 14, 16, 18, 20, 22, 24}

func (c *Cable) check(fs *Faults) {
	fs.within("Door.metres", "metres", c.Metres)
	fs.add(c.Gauge != 0 && !slices.Contains(Gauges, c.Gauge), "gauge",
		"%d is no gauge that is reckoned with; choose 12 to 24", c.Gauge)
}
