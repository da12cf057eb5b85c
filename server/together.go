package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/site"
	"amberkeystone/store"
)

// TogetherInput changes several doors in one step.
type TogetherInput struct {
	IDs    []site.ID     `json:"ids" maxItems:"2000" doc:"Of doors"`
	Set    site.Together `json:"set"`
	Really bool          `json:"really,omitempty" doc:"Do it; else only say what it would do"`
}

// TogetherShown is what a change of several doors does, door by door.
type TogetherShown struct {
	Rows []TogetherRow          `json:"rows"`
	Was  []Versioned[site.Door] `json:"was" doc:"Once it is done: the doors as they were, with their new revisions, to put back"`
	Done bool                   `json:"done"`
}

// TogetherRow is one door of it.
type TogetherRow struct {
	ID    site.ID  `json:"id"`
	Name  string   `json:"name"`
	Words []string `json:"words" doc:"What differs"`
	Wrong string   `json:"wrong" doc:"Why it cannot be so"`
}

// together works out or does a change of several doors: all or none.
func (s *Server) together(ctx context.Context, in TogetherInput) (TogetherShown, error) {
	out := TogetherShown{Rows: []TogetherRow{}, Was: []Versioned[site.Door]{}}
	f, err := s.settled(ctx)
	if err != nil {
		return out, err
	}
	list, err := in.Set.Apply(f.Config, in.IDs)
	if err != nil {
		return out, err
	}
	var todo []store.Versioned[site.Door]
	var faults site.Faults
	for i := range list {
		was := f.Config.Door(in.IDs[i])
		row := TogetherRow{ID: was.ID, Name: was.Name, Words: orNone(site.Differences(was, &list[i], f.Name))}
		if wrong := s.check(&list[i]); len(wrong) > 0 {
			row.Wrong = wrong[0].Words
			faults = append(faults, site.Fault{Field: wrong[0].Field, Words: was.Name + ": " + wrong[0].Words})
		}
		out.Rows = append(out.Rows, row)
		if len(row.Words) == 0 {
			continue
		}
		rev, err := f.revOf(was.ID)
		if err != nil {
			return out, err
		}
		todo = append(todo, store.Versioned[site.Door]{Rev: rev, Value: list[i]})
	}
	if !in.Really {
		return out, nil
	}
	if len(faults) > 0 {
		return out, faults
	}
	if err := store.PutMany(ctx, s.Store, s.who(ctx), todo); err != nil {
		return out, err
	}
	for _, x := range todo {
		out.Was = append(out.Was, Versioned[site.Door]{x.Rev, *f.Config.Door(x.Value.ID)})
	}
	out.Done = true
	return out, s.settle(ctx)
}

// putBack writes several doors in one step, each over its revision: all or none.
func (s *Server) putBack(ctx context.Context, list []Versioned[site.Door]) error {
	todo := make([]store.Versioned[site.Door], len(list))
	for i := range list {
		if faults := s.check(&list[i].Value); len(faults) > 0 {
			return faults
		}
		todo[i] = store.Versioned[site.Door](list[i])
	}
	if err := store.PutMany(ctx, s.Store, s.who(ctx), todo); err != nil {
		return err
	}
	return s.settle(ctx)
}

func (s *Server) togetherRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "changeTogether", Method: http.MethodPost, Path: "/api/doors-together"},
		func(ctx context.Context, in *struct{ Body TogetherInput }) (*output[TogetherShown], error) {
			return give(s.together(ctx, in.Body))
		})
	huma.Register(api, huma.Operation{OperationID: "putBack", Method: http.MethodPut, Path: "/api/doors-together"},
		func(ctx context.Context, in *struct {
			Body struct {
				Doors []Versioned[site.Door] `json:"doors" maxItems:"2000"`
			}
		}) (*struct{}, error) {
			return nil, say(s.putBack(ctx, in.Body.Doors))
		})
}
