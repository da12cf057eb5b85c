package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/rack"
	"amberkeystone/store"
)

// Adoption is how a controller is taken into service.
type Adoption struct {
	Name   string  `json:"name"`
	SiteID site.ID `json:"siteId" doc:"0: make a new site"`
	Site   string  `json:"site,omitempty" doc:"Name of the new site"`
	Zone   string  `json:"zone" doc:"IANA time zone"`
	Place  string  `json:"place,omitempty" doc:"Where it hangs, and which doors it is to serve"`
	// Network is how it gets its address, once it is in service.
	Network site.Network `json:"network,omitzero"`
	// Replaces is the controller whose place it takes, with its doors, inputs and outputs; 0: none.
	Replaces site.ID `json:"replaces,omitempty"`
	Replaced bool    `json:"replaced,omitempty" doc:"It stands in for a device that was known by its serial, and is another one"`
}

// Confirmation takes a controller into service for good, once a person has compared the codes.
type Confirmation struct {
	Adoption
	Code string `json:"code" doc:"The code that was compared"`
}

// Compare is the two codes that a person compares before a controller is taken into service.
type Compare struct {
	Serial string `json:"serial"`
	Code   string `json:"code" doc:"The code that this server shows; the controller shows it too, unless somebody sits in between"`
	Shows  string `json:"shows" doc:"What the controller itself shows; of a stand-in this is seen here, as on its own display"`
}

// takingTime is how long taking a controller into service may take; it goes on when who asked for it goes away.
const takingTime = 20 * time.Second

// agree is the first step: both sides agree on a key, which is kept here before anything else, and show a code.
func (s *Server) agree(ctx context.Context, serial string, a Adoption) (Compare, error) {
	who := s.who(ctx)
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), takingTime)
	defer cancel()
	c, v, err := s.candidate(serial, a)
	if err != nil {
		return Compare{}, err
	}
	conn, err := net.DialTimeout("tcp", v.Address, 3*time.Second)
	if err != nil {
		return Compare{}, huma.Error503ServiceUnavailable("The controller does not answer at " + v.Address + ".")
	}
	defer conn.Close()
	got, err := link.Adopt(conn, s.identity)
	switch {
	case errors.Is(err, link.ErrTaken):
		return Compare{}, huma.Error409Conflict(
			"The controller is in service with another key. Hold its reset button first; that erases it.",
		)
	case err != nil:
		return Compare{}, huma.Error503ServiceUnavailable(
			"The controller did not finish taking its key: look at its network, then try again.",
		)
	}
	if err := s.sameDevice(ctx, c, got.Identity, a.Replaced || a.Replaces != 0); err != nil {
		return Compare{}, err
	}
	err = s.Store.BeginTaking(
		ctx,
		store.Taking{
			Serial:   serial,
			Address:  v.Address,
			Key:      got.Key[:],
			Identity: got.Identity,
			Code:     got.Code,
			Who:      who,
		},
	)
	if err != nil {
		return Compare{}, err
	}
	out := Compare{Serial: serial, Code: got.Code}
	if views, err := s.rack.List(); err == nil {
		if i := slices.IndexFunc(views, func(v rack.View) bool { return v.Serial == serial }); i >= 0 {
			out.Shows = views[i].Code
		}
	}
	s.hub.send(note{Type: "found"})
	return out, nil
}

// candidate finds the controller on the network and says what is wrong with how it is to be taken into service.
func (s *Server) candidate(serial string, a Adoption) (site.Controller, rack.View, error) {
	views, err := s.reachable()
	if err != nil {
		return site.Controller{}, rack.View{}, err
	}
	i := slices.IndexFunc(views, func(v rack.View) bool { return v.Serial == serial })
	if i < 0 {
		return site.Controller{}, rack.View{}, huma.Error404NotFound(
			"No controller with serial " + serial + " answers on the network any more.",
		)
	}
	v := views[i]
	if a.Replaces != 0 {
		return s.successor(v, a)
	}
	if v.Fault != "" {
		return site.Controller{}, v, huma.Error409Conflict(
			"This controller has stopped: " + v.Fault + ". Reset it first; that erases it.",
		)
	}
	c := site.Controller{
		Name:   strings.TrimSpace(a.Name),
		Zone:   a.Zone,
		Serial: v.Serial,
		Model:  v.Model,
		Ports:  v.Ports,
		People: v.People,
		SiteID: a.SiteID,

		Place: strings.TrimSpace(a.Place), Network: a.Network,
	}
	for _, x := range s.current().Config.Controllers {
		if x.Serial == serial { // it was reset, and comes back as itself
			c = x
		}
	}
	if c.ID != 0 {
		return c, v, nil
	}
	faults := s.check(&c)
	if len(faults) == 0 {
		faults = c.Network.Placed(interfaces(), s.takenAddress(0))
	}
	if len(faults) > 0 {
		return c, v, say(faults)
	}
	for _, x := range s.current().Config.Controllers {
		if strings.EqualFold(x.Name, c.Name) { // said before the controller is erased
			return c, v, say(
				&store.Taken{
					Field: "name",
					Words: "there already is a controller named " + c.Name + "; choose another name",
				},
			)
		}
	}
	_, err = s.newPlace(a)
	return c, v, err
}

// successor is the controller that another device is to be from now on: everything but the device stays.
func (s *Server) successor(v rack.View, a Adoption) (site.Controller, rack.View, error) {
	c := s.current().Config
	was := c.Controller(a.Replaces)
	if was == nil {
		return site.Controller{}, v, say(store.ErrMissing)
	}
	for _, x := range c.Controllers {
		if x.Serial == v.Serial && x.ID != was.ID {
			return *was, v, say(&store.Taken{
				Field: "replaces", Words: v.Serial + " is in service as " + x.Name + "; choose one that is free",
			})
		}
	}
	next := *was
	next.Serial, next.Model, next.Ports, next.People = v.Serial, v.Model, v.Ports, v.People
	for _, u := range c.Uses(was.ID) {
		if !next.Has(u.At) {
			return next, v,
				say(&store.Taken{Field: "replaces",
					Words: fmt.Sprintf("a %s has no terminal %s, where the %s of %s is; choose a larger model",
						v.Model, u.At, u.Role, u.Name)})
		}
	}
	return next, v, nil
}

// newPlace is the site to make for a controller, or nil where it goes to one that is there.
func (s *Server) newPlace(a Adoption) (*site.Site, error) {
	if a.SiteID != 0 {
		return nil, nil
	}
	place := site.Site{Name: strings.TrimSpace(a.Site), Zone: a.Zone}
	if place.Name == "" {
		return nil, huma.Error422UnprocessableEntity(
			"Name the site.",
			&huma.ErrorDetail{Location: "site", Message: "give the new site a name"},
		)
	}
	if faults := s.check(&place); len(faults) > 0 {
		return nil, say(faults)
	}
	return &place, nil
}

// sameDevice refuses a controller that is known by its serial and is another device than it was.
func (s *Server) sameDevice(ctx context.Context, c site.Controller, identity []byte, replaced bool) error {
	if c.ID == 0 || replaced {
		return nil
	}
	l, err := s.Store.LinkOf(ctx, c.ID)
	if errors.Is(err, store.ErrMissing) {
		return nil
	}
	if err != nil || len(l.Identity) == 0 || bytes.Equal(l.Identity, identity) {
		return err
	}
	return huma.Error409Conflict(
		"This is not the device that was in service as " + c.Name + ": it says the same serial and has another identity. " +
			"If the device was replaced, say so and take it into service; else somebody else answers there.",
	)
}

// confirm is the second step: the codes were the same, so the controller is in service with the key that is kept. It
// keeps what it holds until it is greeted with that key, which the link does now and goes on trying.
func (s *Server) confirm(
	ctx context.Context,
	serial string,
	in Confirmation,
) (*output[Versioned[site.Controller]], error) {
	who := s.who(ctx)
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), takingTime)
	defer cancel()
	t, err := s.Store.TakingOf(ctx, serial)
	if errors.Is(err, store.ErrMissing) {
		return nil, huma.Error409Conflict(
			"Nothing waits to be compared for this controller any more. Take it into service anew.",
		)
	}
	if err != nil {
		return nil, err
	}
	if t.Code != in.Code {
		return nil, huma.Error409Conflict(
			"It was taken anew by " + t.Who + " in the meantime and shows another code now. Compare the codes again.",
		)
	}
	c, _, err := s.candidate(serial, in.Adoption)
	if err != nil {
		return nil, err
	}
	var place *site.Site
	if c.ID == 0 {
		if place, err = s.newPlace(in.Adoption); err != nil {
			return nil, err
		}
	}
	rev, err := s.Store.TakeIntoService(ctx, who, &c, place, t, in.Replaces != 0)
	if err != nil {
		return nil, say(err)
	}
	if in.Replaces != 0 { // everything moves, and is sent as soon as it answers
		err = s.Store.Want(ctx, c.ID)
	}
	err = errors.Join(err, s.settle(ctx))
	s.keep(store.Link{ControllerID: c.ID, Address: t.Address, Key: t.Key, Identity: t.Identity})
	return give(Versioned[site.Controller]{rev, c}, err)
}

func (s *Server) takingRoutes(api huma.API) {
	huma.Register(
		api,
		huma.Operation{
			OperationID: "takeIntoService",
			Method:      http.MethodPost,
			Path:        "/api/found/{serial}/take-into-service",
			Summary:     "Agree on a key with a controller; both sides then show a code to compare",
		},
		func(ctx context.Context, in *struct {
			Serial string `path:"serial"`
			Body   Adoption
		}) (*output[Compare], error) {
			return give(s.agree(ctx, in.Serial, in.Body))
		},
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "confirmTaking", Method: http.MethodPost, Path: "/api/found/{serial}/confirm",
			Summary: "The codes are the same: take the controller into service"},
		func(ctx context.Context, in *struct {
			Serial string `path:"serial"`
			Body   Confirmation
		}) (*output[Versioned[site.Controller]], error) {
			return s.confirm(ctx, in.Serial, in.Body)
		},
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "dropTaking", Method: http.MethodDelete, Path: "/api/found/{serial}/taking",
			Summary: "The codes differ, or somebody thought better of it"},
		func(ctx context.Context, in *struct {
			Serial string `path:"serial"`
		}) (*struct{}, error) {
			return nil, say(s.Store.DropTaking(ctx, s.who(ctx), in.Serial))
		},
	)
	huma.Post(api, "/api/found/{serial}/reset", func(ctx context.Context, in *struct {
		Serial string `path:"serial"`
	}) (*struct{}, error) {
		if err := s.reset(in.Serial); err != nil {
			return nil, err
		}
		return nil, s.Store.Note(ctx, s.who(ctx), "reset", "controller", 0, in.Serial)
	})
}

// reset holds the reset button of a stand-in.
func (s *Server) reset(serial string) error {
	views, err := s.reachable()
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(views, func(v rack.View) bool { return v.Serial == serial }) {
		return huma.Error404NotFound("No controller with serial " + serial + " answers on the network.")
	}
	if _, err := s.rack.Do(rack.Hand{Serial: serial, Do: "reset"}); err != nil {
		return huma.Error503ServiceUnavailable("The controller was not reset: " + err.Error() + ".")
	}
	return nil
}
