package sitefile

import (
	"cmp"
	"encoding/json"

	"amberkeystone/core/site"
)

// car makes a door an elevator: the floors that it serves, the lowest first, each with its relay.
type car struct {
	Floors    []stop       `json:"floors"`
	Expanders []int        `json:"expanders"`
	Buttons   []int        `json:"buttons,omitempty"`
	Fire      site.CarFire `json:"fire,omitempty"` // drop, where nothing is said
	Freight   bool         `json:"freight,omitempty"`
}

// stop is a floor of the door's site; its relay is that of its place where nothing is said.
type stop struct {
	Floor string `json:"floor"`
	Relay int    `json:"relay,omitempty"`
	Free  string `json:"free,omitempty"` // a schedule
}

// ride is floors by elevators, of an entry of a level.
type ride struct {
	Floors    []floorName `json:"floors,omitempty"`
	AllFloors bool        `json:"allFloors,omitempty"`
	Elevators []string    `json:"elevators,omitempty"`
	AllCars   bool        `json:"allElevators,omitempty"`
}

// usual is the hardware over which a door of a file is read.
func usual(b []byte) site.Hardware {
	var peek struct {
		Car json.RawMessage `json:"elevator"`
	}
	if json.Unmarshal(b, &peek) == nil && len(peek.Car) > 0 && string(peek.Car) != "null" {
		return site.UsualElevator()
	}
	return site.UsualHardware()
}

// car reads the floors of an elevator.
func (n *naming) car(where, place string, c *car) *site.Car {
	if c == nil {
		return nil
	}
	out := &site.Car{Boards: c.Expanders, Buttons: c.Buttons, Fire: cmp.Or(c.Fire, site.FireDrops), Freight: c.Freight}
	for i, s := range c.Floors {
		x := site.Stop{FloorID: n.find(where, "floor", place, s.Floor), Relay: cmp.Or(s.Relay, i+1)}
		if s.Free != "" {
			x.FreeID = n.find(where, "schedule", s.Free)
		}
		out.Stops = append(out.Stops, x)
	}
	return out
}

// ride reads which floors by which elevators.
func (n *naming) ride(at string, r *ride) *site.Ride {
	out := &site.Ride{AllFloors: r.AllFloors, AllCars: r.AllCars}
	for _, f := range r.Floors {
		out.FloorIDs = append(out.FloorIDs, n.find(at, "floor", f.Site, f.Floor))
	}
	for _, e := range r.Elevators {
		out.CarIDs = append(out.CarIDs, n.find(at, "door", e))
	}
	return out
}

func carOf(c *site.Car, name map[site.ID]string, floors map[site.ID]site.Floor) *car {
	if c == nil {
		return nil
	}
	out := &car{Floors: []stop{}, Expanders: c.Boards, Buttons: c.Buttons, Fire: c.Fire, Freight: c.Freight}
	for i, s := range c.Stops {
		x := stop{Floor: floors[s.FloorID].Name, Relay: s.Relay, Free: name[s.FreeID]}
		if x.Relay == i+1 {
			x.Relay = 0
		}
		out.Floors = append(out.Floors, x)
	}
	return out
}

func rideOf(r *site.Ride, name map[site.ID]string, floors map[site.ID]site.Floor) *ride {
	if r == nil {
		return nil
	}
	out := &ride{AllFloors: r.AllFloors, AllCars: r.AllCars}
	for _, id := range r.FloorIDs {
		out.Floors = append(out.Floors, floorName{name[floors[id].SiteID], floors[id].Name})
	}
	for _, id := range r.CarIDs {
		out.Elevators = append(out.Elevators, name[id])
	}
	return out
}
