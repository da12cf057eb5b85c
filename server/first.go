package server

import (
	"context"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/rack"
	"amberkeystone/store"
)

// FirstRead is a card that was presented at a controller that is not in service yet.
type FirstRead struct {
	Serial string        `json:"serial"`
	At     hours.Instant `json:"at" doc:"Unix milliseconds"`
	Reader string        `json:"reader" doc:"Its terminal"`
	Bits   string        `json:"bits"`
	Format string        `json:"format" doc:"Of the card; empty: it fits none"`
	Value  string        `json:"value" doc:"Its number as people say it"`
	Words  string        `json:"words" doc:"Why it is no card that readers take"`
	Holder string        `json:"holder" doc:"Whose card it is already"`
}

// firstReads lists what was presented at controllers that hold nothing yet, oldest first.
func (s *Server) firstReads() ([]FirstRead, error) {
	views, err := s.reachable()
	if err != nil {
		return nil, err
	}
	c := s.current().Config
	accepts := c.Settings.Accepts(nil)
	out := []FirstRead{}
	for _, v := range views {
		for _, r := range v.Reads {
			x := FirstRead{Serial: v.Serial, At: r.At, Reader: r.Point.String(), Bits: r.Bits.String()}
			if d := cards.Decode(&r.Bits, accepts); d.Fault == cards.Fits {
				x.Format, x.Value = d.Format.Name, cards.Number(d.Format.Name, d.Facility, d.Number)
				x.Holder = holderOf(c, x.Format, x.Value)
			} else {
				x.Words = d.Explain(accepts)
			}
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b FirstRead) int { return int(a.At - b.At) })
	return out, nil
}

func holderOf(c *site.Config, format, value string) string {
	for _, p := range c.People {
		for _, h := range p.Credentials {
			if h.Kind == site.Card && h.Format == format && h.Value == value {
				return p.Name
			}
		}
	}
	return ""
}

// FirstHand is something that a person does at a stand-in that is not in service yet.
type FirstHand struct {
	Do       string        `json:"do" enum:"present,beep"`
	At       point.Address `json:"at" doc:"The reader, such as r1"`
	Facility uint64        `json:"facility,omitempty" doc:"Of a 26-bit card"`
	Number   uint64        `json:"number,omitempty"`
}

func (s *Server) firstHand(serial string, h FirstHand) error {
	hand := rack.Hand{Serial: serial, Do: h.Do, Point: h.At, On: true}
	if h.Do == "present" {
		bits, err := cards.Standard26.Encode(h.Facility, h.Number)
		if err != nil {
			return &store.Taken{Field: "number", Words: err.Error()}
		}
		hand.Bits = bits
	}
	if _, err := s.rack.Do(hand); err != nil {
		return huma.Error503ServiceUnavailable(err.Error())
	}
	return nil
}

func (s *Server) firstRoutes(api huma.API) {
	huma.Get(api, "/api/first-reads", func(context.Context, *struct{}) (*output[[]FirstRead], error) {
		return give(s.firstReads())
	})
	huma.Post(api, "/api/found/{serial}/hand", func(_ context.Context, in *struct {
		Serial string `path:"serial"`
		Body   FirstHand
	}) (*struct{}, error) {
		return nil, say(s.firstHand(in.Serial, in.Body))
	})
}
