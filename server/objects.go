package server

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/cards"
	"amberkeystone/core/model"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// Versioned is an object with the revision that a write must name.
type Versioned[T any] struct {
	Rev   int64 `json:"rev"`
	Value T     `json:"value"`
}

// Page is a part of a list.
type Page[T any] struct {
	Total int              `json:"total"`
	Next  string           `json:"next,omitempty" doc:"Give it as after to read on; none: this was the end"`
	Items []Versioned[T]   `json:"items"`
	Used  []map[string]int `json:"used" doc:"What points to each item: how many, by their kind"`
}

// PageInput is what is asked of a list.
type PageInput struct {
	Q      string   `query:"q" doc:"Look for this in names"`
	Limit  int      `query:"limit" default:"200" minimum:"1" maximum:"1000"`
	Offset int      `query:"offset" minimum:"0"`
	After  string   `query:"after" doc:"The next of the page before"`
	Sort   string   `query:"sort" doc:"A column, with - before it for the other way round; none: by name"`
	Where  []string `query:"where,explode" doc:"Conditions as column=value; all have to hold"`
}

func (in *PageInput) page() store.Page {
	return store.Page{
		Search: strings.TrimSpace(in.Q), Limit: in.Limit, Offset: in.Offset, After: in.After, Sort: in.Sort, Where: in.Where,
	}
}

type idInput struct {
	ID site.ID `path:"id"`
}

type output[T any] struct{ Body T }

func give[T any](v T, err error) (*output[T], error) {
	if err != nil {
		return nil, say(err)
	}
	return &output[T]{v}, nil
}

// checker is what every object of the configuration can say of itself.
type checker interface{ Check() site.Faults }

func (s *Server) objectRoutes(api huma.API) {
	routes[site.Site](s, api, "site", "sites", nil)
	routes[site.Floor](s, api, "floor", "floors", nil)
	routes[site.Controller](s, api, "controller", "controllers", s.controllerRemoved)
	routes[site.Door](s, api, "door", "doors", nil)
	routes[site.Input](s, api, "input", "inputs", nil)
	routes[site.Output](s, api, "output", "outputs", nil)
	routes[site.Supply](s, api, "supply", "supplies", nil)
	routes[site.HolidayType](s, api, "holidayType", "holiday-types", nil)
	routes[site.Holiday](s, api, "holiday", "holidays", nil)
	routes[site.DoorSet](s, api, "doorSet", "door-sets", nil)
	routes[site.DatedChange](s, api, "datedChange", "dated-changes", nil)
	routes[site.Schedule](s, api, "schedule", "schedules", nil)
	routes[site.Plan](s, api, "plan", "plans", nil)
	routes[site.Level](s, api, "level", "levels", nil)
	routes[site.Department](s, api, "department", "departments", nil)
	routes[site.Person](s, api, "person", "people", nil)
	routes[site.FreeCard](s, api, "freeCard", "free-cards", nil)
	routes[site.Interlock](s, api, "interlock", "interlocks", nil)
	routes[site.Area](s, api, "area", "areas", nil)
	routes[site.Group](s, api, "group", "groups", nil)
	routes[site.Proofs](s, api, "proofs", "proofs", nil)
	routes[site.Screening](s, api, "screening", "screenings", nil)
	routes[site.Emergency](s, api, "emergency", "emergencies", nil)
	routes[site.Reaction](s, api, "reaction", "reactions", nil)
	routes[site.AlarmArea](s, api, "alarmArea", "alarm-areas", nil)
	s.alarmAreaRoutes(api)
	s.reactionRoutes(api)
	s.ruleRoutes(api)
	s.elevatorRoutes(api)
	s.orderRoutes(api)
	s.areaRoutes(api)
	s.screeningRoutes(api)
	s.emergencyRoutes(api)
	s.settingsRoutes(api)
	s.pinRoutes(api)
	s.historyRoutes(api)
}

// routes are the operations on one kind: list, read, add, change, remove.
func routes[T any](s *Server, api huma.API, one, many string, removed func(site.ID)) {
	base := "/api/" + many
	op := func(id, method, path string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Tags: []string{many}}
	}
	title := strings.ToUpper(one[:1]) + one[1:]
	huma.Register(
		api,
		op("list"+title, http.MethodGet, base),
		func(ctx context.Context, in *PageInput) (*output[Page[T]], error) {
			return give(listOf[T](ctx, s, in.page()))
		},
	)
	huma.Register(
		api,
		op("get"+title, http.MethodGet, base+"/{id}"),
		func(ctx context.Context, in *idInput) (*output[Versioned[T]], error) {
			v, err := store.Get[T](ctx, s.Store, in.ID)
			return give(Versioned[T](v), err)
		},
	)
	huma.Register(
		api,
		op("add"+title, http.MethodPost, base),
		func(ctx context.Context, in *struct{ Body T }) (*output[Versioned[T]], error) {
			*model.Of(&in.Body).ID(&in.Body) = 0
			return save(ctx, s, &in.Body, 0)
		},
	)
	huma.Register(api, op("save"+title, http.MethodPut, base+"/{id}"), func(ctx context.Context, in *struct {
		ID   site.ID `path:"id" minimum:"1"`
		Body Versioned[T]
	}) (*output[Versioned[T]], error) {
		*model.Of(&in.Body.Value).ID(&in.Body.Value) = in.ID
		return save(ctx, s, &in.Body.Value, in.Body.Rev)
	})
	huma.Register(api, op("remove"+title, http.MethodDelete, base+"/{id}"), func(ctx context.Context, in *struct {
		ID  site.ID `path:"id" minimum:"1"`
		Rev int64   `query:"rev" required:"true"`
	}) (*struct{}, error) {
		if err := s.mayRemove(ctx, in.ID); err != nil {
			return nil, say(err)
		}
		if err := store.Remove[T](ctx, s.Store, s.who(ctx), in.ID, in.Rev); err != nil {
			return nil, say(err)
		}
		if removed != nil {
			removed(in.ID)
		}
		return nil, s.settle(ctx)
	})
}

// listOf reads a page of a kind.
func listOf[T any](ctx context.Context, s *Server, p store.Page) (Page[T], error) {
	found, err := store.List[T](ctx, s.Store, p)
	page := Page[T]{Total: found.Total, Next: found.Next, Items: []Versioned[T]{}, Used: []map[string]int{}}
	if err != nil {
		return page, err
	}
	var ids []site.ID
	for _, v := range found.Items {
		page.Items = append(page.Items, Versioned[T](v))
		ids = append(ids, *model.Of(&v.Value).ID(&v.Value))
	}
	uses, err := s.Store.Uses(ctx, ids)
	for _, id := range ids {
		n := uses[id]
		if n == nil {
			n = map[string]int{}
		}
		page.Used = append(page.Used, n)
	}
	return page, err
}

func save[T any](ctx context.Context, s *Server, v *T, rev int64) (*output[Versioned[T]], error) {
	if faults := s.check(v); len(faults) > 0 {
		return nil, say(faults)
	}
	ctx = s.sayingEffect(ctx, v)
	rev, err := store.Put(ctx, s.Store, s.who(ctx), v, rev)
	if err != nil {
		return nil, say(err)
	}
	return give(Versioned[T]{rev, *v}, s.settle(ctx))
}

// check asks the object itself, and looks at what only the whole configuration or the machine can tell.
func (s *Server) check(v any) site.Faults {
	faults := v.(checker).Check()
	c := s.current().Config
	switch v := v.(type) {
	case *site.Site:
		faults = append(faults, checkZone(v.Zone)...)
	case *site.Controller:
		faults = append(faults, checkZone(v.Zone)...)
	case *site.Door:
		if len(faults) == 0 {
			faults = append(faults, c.CheckTerminals(v, c.Door(v.ID))...)
			faults = append(faults, c.CheckCar(v)...)
		}
	case *site.Reaction:
		faults = append(faults, c.CheckReaction(v)...)
		if loop := c.ReactionLoop(v); loop != nil && len(faults) == 0 {
			faults = append(faults, site.Fault{Field: "do", Words: s.current().LoopWords(loop)})
		}
	case *site.AlarmArea:
		faults = append(faults, c.CheckAlarmArea(v)...)
	case *site.Interlock:
		faults = append(faults, c.CheckInterlock(v)...)
	case *site.Input:
		faults = append(faults, c.CheckInput(v)...)
		faults = append(faults, s.checkAt(v.ControllerID, v.At, v.ID, len(faults) == 0)...)
	case *site.Output:
		faults = append(faults, s.checkAt(v.ControllerID, v.At, v.ID, len(faults) == 0)...)
	case *site.Level:
		if loop := c.Loop(v.ID, v.Includes); loop != nil && v.ID != 0 {
			faults = append(faults, site.Fault{Field: "includes", Words: s.loopWords(loop)})
		}
	case *site.FreeCard:
		p := site.Person{Credentials: []site.Credential{v.Credential}}
		for _, f := range c.Settings.CheckCards(&p) {
			f.Field = strings.TrimPrefix(f.Field, "credentials[0].")
			faults = append(faults, f)
		}
	case *site.Person:
		faults = append(faults, c.Settings.CheckCards(v)...)
	case *site.Settings:
		faults = append(faults, s.formatsInUse(v)...)
	case *site.Schedule:
		for _, fixed := range c.Schedules {
			if fixed.ID == v.ID && fixed.Fixed {
				faults = append(faults, site.Fault{
					Field: "name", Words: fixed.Name + " is the same everywhere and cannot be edited; make a schedule of your own",
				})
			}
		}
		v.Fixed = false
	}
	return faults
}

// checkZone says whether a time zone is known.
func checkZone(name string) site.Faults {
	if _, err := time.LoadLocation(name); err == nil || name == "" {
		return nil
	}
	words := "“" + name + "” is not an IANA time zone; write one such as America/Halifax"
	return site.Faults{{Field: "zone", Words: words}}
}

// loopWords says how a level would contain itself.
func (s *Server) loopWords(loop []site.ID) string {
	b := s.current()
	var names []string
	for _, id := range loop {
		names = append(names, b.Name(id))
	}
	return "a level cannot contain itself: " + strings.Join(names, " contains ") + "; take one of them out"
}

// checkAt refuses a terminal that is not there or that somebody else has.
func (s *Server) checkAt(controller site.ID, at point.Address, id site.ID, ask bool) (faults site.Faults) {
	if ask {
		errors.As(s.current().Config.MayUse(controller, at, id), &faults)
	}
	return faults
}

// formatsInUse refuses settings without a format that cards or readers name.
func (s *Server) formatsInUse(next *site.Settings) (faults site.Faults) {
	c := s.current().Config
	for i := range c.Settings.Formats {
		name := c.Settings.Formats[i].Name
		if next.Format(name) != nil {
			continue
		}
		if by := c.FormatUsedBy(name); by != "" {
			faults = append(faults, site.Fault{
				Field: "formats", Words: name + " is the format of " + by + "; give those another first",
			})
		}
	}
	return faults
}

func (s *Server) mayRemove(_ context.Context, id site.ID) error {
	for _, x := range s.current().Config.Schedules {
		if x.ID == id && x.Fixed {
			return &store.Taken{Words: x.Name + " is always there and cannot be removed"}
		}
	}
	return nil
}

func (s *Server) settingsRoutes(api huma.API) {
	huma.Get(api, "/api/settings", func(ctx context.Context, _ *struct{}) (*output[Versioned[site.Settings]], error) {
		found, err := store.List[site.Settings](ctx, s.Store, store.Page{Limit: 1})
		if err != nil || len(found.Items) == 0 {
			return nil, say(store.ErrMissing)
		}
		return give(Versioned[site.Settings](found.Items[0]), nil)
	})
	huma.Put(
		api,
		"/api/settings",
		func(ctx context.Context, in *struct{ Body Versioned[site.Settings] }) (*output[Versioned[site.Settings]], error) {
			return save(ctx, s, &in.Body.Value, in.Body.Rev)
		},
	)
}

// PINState says whether people have a PIN, never which.
type PINState struct {
	Has      bool `json:"has" doc:"This person has one"`
	Count    int  `json:"count" doc:"How many people have one"`
	Length   int  `json:"length"`
	Possible int  `json:"possible" doc:"How many PINs of this length there are"`
}

func (s *Server) pins(person site.ID) PINState {
	c := s.current().Config
	out := PINState{Length: c.Settings.PINLength, Possible: 1}
	for range out.Length {
		out.Possible *= 10
	}
	for _, p := range c.People {
		if p.PIN != nil {
			out.Count++
			out.Has = out.Has || p.ID == person
		}
	}
	return out
}

func (s *Server) pinRoutes(api huma.API) {
	huma.Get(api, "/api/pins", func(context.Context, *struct{}) (*output[PINState], error) {
		return give(s.pins(0), nil)
	})
	huma.Get(api, "/api/people/{id}/pin", func(_ context.Context, in *idInput) (*output[PINState], error) {
		return give(s.pins(in.ID), nil)
	})
	huma.Put(api, "/api/people/{id}/pin", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body struct {
			PIN string `json:"pin" doc:"Empty takes the PIN away"`
		}
	}) (*struct{}, error) {
		if in.Body.PIN == "" {
			if err := s.Store.SetPIN(ctx, s.who(ctx), in.ID, nil, nil, 0); err != nil {
				return nil, say(err)
			}
			return nil, s.settle(ctx)
		}
		if err := cards.CheckPIN(in.Body.PIN, s.current().Config.Settings.PINLength); err != nil {
			return nil, say(&store.Taken{Field: "pin", Words: err.Error()})
		}
		pin, duress := cards.HashPIN(s.pinKey, in.Body.PIN), cards.HashPIN(s.pinKey, cards.DuressPIN(in.Body.PIN))
		if err := s.Store.SetPIN(ctx, s.who(ctx), in.ID, &pin, &duress, len(in.Body.PIN)); err != nil {
			return nil, say(err)
		}
		return nil, s.settle(ctx)
	})
}

func (s *Server) historyRoutes(api huma.API) {
	huma.Get(api, "/api/history", func(ctx context.Context, in *historyInput) (*output[[]HistoryLine], error) {
		return give(s.history(ctx, in))
	})
	huma.Post(api, "/api/history/{id}/undo", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*struct{}, error) {
		if e, err := s.undoEffect(ctx, in.ID); err == nil {
			ctx = store.WithEffect(ctx, e.Sentence)
		}
		if err := s.Store.Undo(ctx, s.who(ctx), in.ID); err != nil {
			return nil, say(err)
		}
		return nil, s.settle(ctx)
	})
	huma.Get(api, "/api/history/{id}/effect", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*output[EditEffect], error) {
		return give(s.undoEffect(ctx, in.ID))
	})
	huma.Get(api, "/api/names", func(ctx context.Context, in *struct {
		IDs []int64 `query:"ids,explode" maxItems:"500" doc:"Numbers of objects of any kinds"`
	}) (*output[[]store.Place], error) {
		ids := make([]site.ID, len(in.IDs))
		for i, id := range in.IDs {
			ids[i] = site.ID(id)
		}
		return give(s.Store.Names(ctx, ids))
	})
	huma.Get(api, "/api/beside/{kind}/{id}", func(ctx context.Context, in *struct {
		Kind string  `path:"kind"`
		ID   site.ID `path:"id"`
		PageInput
	}) (*output[store.Around], error) {
		return give(s.Store.Beside(ctx, in.Kind, in.ID, in.page()))
	})
	huma.Get(api, "/api/used-by/{id}", func(ctx context.Context, in *idInput) (*output[[]store.Place], error) {
		return give(s.Store.UsedBy(ctx, in.ID))
	})
	huma.Get(api, "/api/find", func(ctx context.Context, in *struct {
		Q string `query:"q"`
	}) (*output[[]store.Place], error) {
		return give(s.Store.Find(ctx, strings.TrimSpace(in.Q), 20))
	})
}
