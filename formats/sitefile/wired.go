package sitefile

import (
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// input and output are those that belong to no door; they are in a list of their own, with their controller.
type input struct {
	Name       string        `json:"name"`
	Controller string        `json:"controller"`
	At         point.Address `json:"at"`
	Use        site.InputUse `json:"use"`
	Contact    site.Wiring   `json:"contact"`
	Supervised bool          `json:"supervised,omitempty"`
	Doors      []string      `json:"doors,omitempty"`
	Starts     string        `json:"starts,omitempty"` // an emergency
}

type output struct {
	Name       string          `json:"name"`
	Controller string          `json:"controller"`
	At         point.Address   `json:"at"`
	Use        site.OutputUse  `json:"use"`
	When       site.OutputWhen `json:"when"`
	Doors      []string        `json:"doors,omitempty"`
}

type supply struct {
	Name      string `json:"name"`
	Site      string `json:"site"`
	Volts     int    `json:"volts"`
	Milliamps int    `json:"milliamps"`
	Battery   int    `json:"battery,omitempty"`
}

// facility is a name of a facility code, of a site or of all.
type facility struct {
	Code uint64 `json:"code"`
	Name string `json:"name"`
	Site string `json:"site,omitempty"`
}

func (n *naming) supplies(f *file, c *site.Config) {
	for _, x := range f.Supplies {
		where := "supply " + x.Name
		v := site.Supply{ID: n.add("supply", x.Name), Name: x.Name, SiteID: n.find(where, "site", x.Site),
			Volts: x.Volts, Milliamps: x.Milliamps, Battery: x.Battery}
		n.check(where, v.Check())
		c.Supplies = append(c.Supplies, v)
	}
}

// wired reads what belongs to no door, once the doors are known.
func (n *naming) wired(f *file, c *site.Config) {
	doors := func(where string, names []string) (out []site.ID) {
		for _, d := range names {
			out = append(out, n.find(where, "door", d))
		}
		return out
	}
	for _, x := range f.Inputs {
		where := "input " + x.Name
		v := site.Input{ID: n.add("input", x.Controller, x.Name), Name: x.Name,
			ControllerID: n.find(where, "controller", x.Controller),
			At:           x.At, Use: x.Use, Contact: x.Contact, Supervised: x.Supervised, DoorIDs: doors(where, x.Doors)}
		n.check(where, v.Check())
		c.Inputs = append(c.Inputs, v)
	}
	for _, x := range f.Outputs {
		where := "output " + x.Name
		v := site.Output{ID: n.add("output", x.Controller, x.Name), Name: x.Name,
			ControllerID: n.find(where, "controller", x.Controller),
			At:           x.At, Use: x.Use, When: x.When, DoorIDs: doors(where, x.Doors)}
		n.check(where, v.Check())
		c.Outputs = append(c.Outputs, v)
	}
	for _, x := range f.Facilities {
		v := site.Facility{Code: x.Code, Name: x.Name}
		if x.Site != "" {
			v.SiteID = n.find("facility code "+x.Name, "site", x.Site)
		}
		c.Settings.Facilities = append(c.Settings.Facilities, v)
	}
}

func writeWired(f *file, c *site.Config, name map[site.ID]string) {
	doors := func(ids []site.ID) (out []string) {
		for _, id := range ids {
			out = append(out, name[id])
		}
		return out
	}
	for _, x := range c.Inputs {
		f.Inputs = append(f.Inputs, input{x.Name, name[x.ControllerID], x.At, x.Use, x.Contact, x.Supervised,
			doors(x.DoorIDs), c.EmergencyName(x.EmergencyID)})
	}
	for _, x := range c.Outputs {
		f.Outputs = append(f.Outputs, output{x.Name, name[x.ControllerID], x.At, x.Use, x.When, doors(x.DoorIDs)})
	}
	for _, x := range c.Settings.Facilities {
		f.Facilities = append(f.Facilities, facility{x.Code, x.Name, name[x.SiteID]})
	}
	f.Settings.Facilities = nil // they are in a list of their own, by the names of sites
}
