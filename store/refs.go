package store

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/site"
)

// Meta is what the store knows of an object besides its document.
type Meta struct {
	Kind  string
	Scope site.ID // names are unique within it
	Refs  []Ref
}

// Ref is what a field of an object points to; an ID of 0 is nothing.
type Ref struct {
	Field, Kind string
	ID          site.ID
}

func refs(field, kind string, ids ...site.ID) []Ref {
	var out []Ref
	for _, id := range ids {
		out = append(out, Ref{field, kind, id})
	}
	return out
}

// Describe returns the kind, ID, name and references of an object of the configuration.
func Describe(o any) (m Meta, id *site.ID, name string) {
	switch o := o.(type) {
	case *site.Settings:
		return Meta{Kind: "settings"}, new(site.ID), "settings"
	case *site.Site:
		return Meta{Kind: "site"}, &o.ID, o.Name
	case *site.Floor:
		return Meta{Kind: "floor", Scope: o.SiteID, Refs: refs("siteId", "site", o.SiteID)}, &o.ID, o.Name
	case *site.Controller:
		return Meta{Kind: "controller", Refs: refs("siteId", "site", o.SiteID)}, &o.ID, o.Name
	case *site.Door:
		return Meta{Kind: "door", Refs: []Ref{{"floorId", "floor", o.FloorID}, {"controllerId", "controller", o.ControllerID}, {"planId", "plan", o.PlanID}}}, &o.ID, o.Name
	case *site.HolidayType:
		return Meta{Kind: "holiday type"}, &o.ID, o.Name
	case *site.Holiday:
		// The same name may stand under several types, as at sites that keep a day in different ways.
		return Meta{Kind: "holiday", Scope: o.TypeID, Refs: append(refs("siteIds", "site", o.SiteIDs...), Ref{"typeId", "holiday type", o.TypeID})}, &o.ID, o.Name
	case *site.Schedule:
		return Meta{Kind: "schedule", Refs: answered(o.Holidays, func(h site.ScheduleHoliday) site.ID { return h.TypeID })}, &o.ID, o.Name
	case *site.Plan:
		return Meta{Kind: "plan", Refs: planRefs(o)}, &o.ID, o.Name
	case *site.DoorSet:
		return Meta{Kind: "door set", Refs: refs("doorIds", "door", o.DoorIDs...)}, &o.ID, o.Name
	case *site.DatedChange:
		return Meta{Kind: "dated change", Refs: slices.Concat(refs("doorIds", "door", o.DoorIDs...), refs("floorIds", "floor", o.FloorIDs...), refs("siteIds", "site", o.SiteIDs...), refs("setIds", "door set", o.SetIDs...))}, &o.ID, o.Name
	case *site.Level:
		var to []Ref
		for i, e := range o.Entries {
			at := fmt.Sprintf("entries[%d].", i)
			to = append(to, Ref{at + "doorId", "door", e.DoorID}, Ref{at + "scheduleId", "schedule", e.ScheduleID})
		}
		return Meta{Kind: "level", Refs: to}, &o.ID, o.Name
	case *site.Person:
		var to []Ref
		for i, g := range o.Levels {
			to = append(to, Ref{fmt.Sprintf("levels[%d].levelId", i), "level", g.LevelID})
		}
		return Meta{Kind: "person", Refs: to}, &o.ID, o.Name
	}
	panic(fmt.Sprintf("store: %T is not part of the configuration", o))
}

func answered[T any](list []T, id func(T) site.ID) []Ref {
	var out []Ref
	for i, v := range list {
		out = append(out, Ref{fmt.Sprintf("holidays[%d].typeId", i), "holiday type", id(v)})
	}
	return out
}

// planRefs are the holiday types that a plan answers, and the levels to which segments are limited.
func planRefs(p *site.Plan) []Ref {
	out := answered(p.Holidays, func(h site.PlanHoliday) site.ID { return h.TypeID })
	segments := slices.Concat(p.Week[:]...)
	for _, h := range p.Holidays {
		segments = append(segments, h.Segments...)
	}
	for _, s := range segments {
		for _, level := range s.Levels {
			out = append(out, Ref{"week", "level", site.ID(level)})
		}
	}
	return out
}

// point writes what an object refers to.
func point(ctx context.Context, tx *sqlx.Tx, id site.ID, refs []Ref) error {
	if _, err := tx.ExecContext(ctx, `DELETE FROM refs WHERE from_id = ?`, id); err != nil {
		return err
	}
	done := map[site.ID]bool{0: true}
	for _, to := range refs {
		if done[to.ID] {
			continue
		}
		done[to.ID] = true
		r, err := tx.ExecContext(
			ctx,
			`INSERT INTO refs (from_id, to_id) SELECT ?, id FROM objects WHERE id = ? AND kind = ?`,
			id,
			to.ID,
			to.Kind,
		)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, to.gone())
		}
	}
	return nil
}

func (r Ref) gone() error {
	return &Taken{
		r.Field,
		fmt.Sprintf(
			"it points to %s %d, which does not exist, or no longer; choose another, or load the page again",
			r.Kind,
			r.ID,
		),
	}
}
