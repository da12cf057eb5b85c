package model

import (
	"fmt"
	"slices"

	"amberkeystone/core/site"
)

// Kinds lists every kind of object. A new one is a line here.
var Kinds = []Kind{
	&kind[site.Settings]{
		word: "settings", one: func(c *site.Config) *site.Settings { return &c.Settings },
		id: func(*site.Settings) *site.ID { return new(site.ID) }, name: func(*site.Settings) string { return "settings" },
	},
	&kind[site.Site]{
		word: "site", list: func(c *site.Config) *[]site.Site { return &c.Sites },
		id: func(o *site.Site) *site.ID { return &o.ID }, name: func(o *site.Site) string { return o.Name },
	},
	&kind[site.Floor]{
		word: "floor", list: func(c *site.Config) *[]site.Floor { return &c.Floors },
		id: func(o *site.Floor) *site.ID { return &o.ID }, name: func(o *site.Floor) string { return o.Name },
		scope: func(o *site.Floor) site.ID { return o.SiteID },
		refs:  func(o *site.Floor) []Ref { return refs("siteId", "site", o.SiteID) },
	},
	&kind[site.Controller]{
		word: "controller", list: func(c *site.Config) *[]site.Controller { return &c.Controllers },
		id: func(o *site.Controller) *site.ID { return &o.ID }, name: func(o *site.Controller) string { return o.Name },
		refs: func(o *site.Controller) []Ref { return refs("siteId", "site", o.SiteID) },
	},
	&kind[site.HolidayType]{
		word: "holiday type", list: func(c *site.Config) *[]site.HolidayType { return &c.Types },
		id: func(o *site.HolidayType) *site.ID { return &o.ID }, name: func(o *site.HolidayType) string { return o.Name },
	},
	&kind[site.Holiday]{
		word: "holiday", list: func(c *site.Config) *[]site.Holiday { return &c.Holidays },
		id: func(o *site.Holiday) *site.ID { return &o.ID }, name: func(o *site.Holiday) string { return o.Name },
		// The same name may stand under several types, as at sites that keep a day in different ways.
		scope: func(o *site.Holiday) site.ID { return o.TypeID },
		refs: func(o *site.Holiday) []Ref {
			return append(refs("siteIds", "site", o.SiteIDs...), Ref{"typeId", "holiday type", o.TypeID})
		},
		fill: func(o *site.Holiday) { empty(&o.SiteIDs) },
	},
	&kind[site.Plan]{
		word: "plan", list: func(c *site.Config) *[]site.Plan { return &c.Plans },
		id: func(o *site.Plan) *site.ID { return &o.ID }, name: func(o *site.Plan) string { return o.Name },
		refs: planRefs,
		fill: func(o *site.Plan) {
			for d := range o.Week {
				empty(&o.Week[d])
			}
		},
	},
	&kind[site.Schedule]{
		word: "schedule", list: func(c *site.Config) *[]site.Schedule { return &c.Schedules },
		id: func(o *site.Schedule) *site.ID { return &o.ID }, name: func(o *site.Schedule) string { return o.Name },
		refs: func(o *site.Schedule) []Ref {
			return answered(o.Holidays, func(h site.ScheduleHoliday) site.ID { return h.TypeID })
		},
		fill: func(o *site.Schedule) {
			for d := range o.Week {
				empty(&o.Week[d])
			}
		},
	},
	&kind[site.Door]{
		word: "door", list: func(c *site.Config) *[]site.Door { return &c.Doors },
		id: func(o *site.Door) *site.ID { return &o.ID }, name: func(o *site.Door) string { return o.Name },
		refs: func(o *site.Door) []Ref {
			return append(carRefs(o.Car), []Ref{
				{"floorId", "floor", o.FloorID},
				{"controllerId", "controller", o.ControllerID},
				{"planId", "plan", o.PlanID},
				{"supplyId", "supply", o.SupplyID},
				{"outsideAreaId", "area", o.OutsideAreaID},
				{"insideAreaId", "area", o.InsideAreaID},
			}...)
		},
		fill: func(o *site.Door) {
			if o.FirstCard.Who == "" { // written before doors had one
				o.FirstCard = site.UsualFirstCard()
			}
		},
	},
	&kind[site.Input]{
		word: "input", list: func(c *site.Config) *[]site.Input { return &c.Inputs },
		id: func(o *site.Input) *site.ID { return &o.ID }, name: func(o *site.Input) string { return o.Name },
		scope: func(o *site.Input) site.ID { return o.ControllerID },
		refs: func(o *site.Input) []Ref {
			return append(refs("doorIds", "door", o.DoorIDs...), Ref{"controllerId", "controller", o.ControllerID},
				Ref{"emergencyId", "emergency", o.EmergencyID})
		},
		fill: func(o *site.Input) { empty(&o.DoorIDs) },
	},
	&kind[site.Output]{
		word: "output", list: func(c *site.Config) *[]site.Output { return &c.Outputs },
		id: func(o *site.Output) *site.ID { return &o.ID }, name: func(o *site.Output) string { return o.Name },
		scope: func(o *site.Output) site.ID { return o.ControllerID },
		refs: func(o *site.Output) []Ref {
			return append(refs("doorIds", "door", o.DoorIDs...), Ref{"controllerId", "controller", o.ControllerID})
		},
		fill: func(o *site.Output) { empty(&o.DoorIDs) },
	},
	&kind[site.Supply]{
		word: "supply", list: func(c *site.Config) *[]site.Supply { return &c.Supplies },
		id: func(o *site.Supply) *site.ID { return &o.ID }, name: func(o *site.Supply) string { return o.Name },
		refs: func(o *site.Supply) []Ref { return refs("siteId", "site", o.SiteID) },
	},
	&kind[site.Level]{
		word: "level", list: func(c *site.Config) *[]site.Level { return &c.Levels },
		id: func(o *site.Level) *site.ID { return &o.ID }, name: func(o *site.Level) string { return o.Name },
		refs: levelRefs, fill: func(o *site.Level) { empty(&o.Entries) },
	},
	&kind[site.Department]{
		word: "department", list: func(c *site.Config) *[]site.Department { return &c.Departments },
		id: func(o *site.Department) *site.ID { return &o.ID }, name: func(o *site.Department) string { return o.Name },
		refs: func(o *site.Department) []Ref { return grantRefs(o.Levels) },
		fill: func(o *site.Department) { empty(&o.Levels) },
	},
	&kind[site.FreeCard]{
		word: "free card", list: func(c *site.Config) *[]site.FreeCard { return &c.FreeCards },
		id:   func(o *site.FreeCard) *site.ID { return &o.ID },
		name: func(o *site.FreeCard) string { return o.Words() },
	},
	&kind[site.Interlock]{
		word: "interlock", list: func(c *site.Config) *[]site.Interlock { return &c.Interlocks },
		id: func(o *site.Interlock) *site.ID { return &o.ID }, name: func(o *site.Interlock) string { return o.Name },
		refs: func(o *site.Interlock) []Ref { return refs("doorIds", "door", o.DoorIDs...) },
		fill: func(o *site.Interlock) { empty(&o.DoorIDs) },
	},
	&kind[site.Area]{
		word: "area", list: func(c *site.Config) *[]site.Area { return &c.Areas },
		id: func(o *site.Area) *site.ID { return &o.ID }, name: func(o *site.Area) string { return o.Name },
		refs: func(o *site.Area) []Ref { return refs("exemptIds", "person", o.ExemptIDs...) },
		fill: func(o *site.Area) { empty(&o.ExemptIDs) },
	},
	&kind[site.Group]{
		word: "group", list: func(c *site.Config) *[]site.Group { return &c.Groups },
		id: func(o *site.Group) *site.ID { return &o.ID }, name: func(o *site.Group) string { return o.Name },
		refs: func(o *site.Group) []Ref {
			return append(refs("personIds", "person", o.PersonIDs...),
				refs("departmentIds", "department", o.DepartmentIDs...)...)
		},
		fill: func(o *site.Group) {
			empty(&o.PersonIDs)
			empty(&o.DepartmentIDs)
		},
	},
	&kind[site.Proofs]{
		word: "several proofs", list: func(c *site.Config) *[]site.Proofs { return &c.Proofs },
		id: func(o *site.Proofs) *site.ID { return &o.ID }, name: func(o *site.Proofs) string { return o.Name },
		refs: proofRefs,
		fill: func(o *site.Proofs) {
			empty(&o.DoorIDs)
			empty(&o.Combinations)
			for i := range o.Combinations {
				empty(&o.Combinations[i].Parts)
			}
		},
	},
	&kind[site.Screening]{
		word: "screening", list: func(c *site.Config) *[]site.Screening { return &c.Screenings },
		id: func(o *site.Screening) *site.ID { return &o.ID }, name: func(o *site.Screening) string { return o.Name },
		refs: func(o *site.Screening) []Ref {
			return slices.Concat(refs("personIds", "person", o.PersonIDs...),
				refs("departmentIds", "department", o.DepartmentIDs...),
				refs("deskIds", "door", o.DeskIDs...), refs("passIds", "door", o.PassIDs...), refs("levelId", "level", o.LevelID))
		},
		fill: func(o *site.Screening) {
			empty(&o.PersonIDs)
			empty(&o.DepartmentIDs)
			empty(&o.DeskIDs)
			empty(&o.PassIDs)
		},
	},
	&kind[site.Emergency]{
		word: "emergency", list: func(c *site.Config) *[]site.Emergency { return &c.Emergencies },
		id: func(o *site.Emergency) *site.ID { return &o.ID }, name: func(o *site.Emergency) string { return o.Name },
		refs: func(o *site.Emergency) (to []Ref) {
			for i, t := range o.Targets {
				kind, id := t.Refers()
				to = append(to, Ref{fmt.Sprintf("targets[%d].id", i), kind, id})
			}
			return to
		},
		fill: func(o *site.Emergency) { empty(&o.Targets) },
	},
	&kind[site.Reaction]{
		word: "reaction", list: func(c *site.Config) *[]site.Reaction { return &c.Reactions },
		id: func(o *site.Reaction) *site.ID { return &o.ID }, name: func(o *site.Reaction) string { return o.Name },
		refs: reactionRefs,
		fill: func(o *site.Reaction) {
			empty(&o.At)
			empty(&o.To)
			empty(&o.InputIDs)
			empty(&o.SourceIDs)
			empty(&o.OutputIDs)
			empty(&o.AlarmIDs)
			empty(&o.ArmIDs)
		},
	},
	&kind[site.AlarmArea]{
		word: "alarm area", list: func(c *site.Config) *[]site.AlarmArea { return &c.AlarmAreas },
		id: func(o *site.AlarmArea) *site.ID { return &o.ID }, name: func(o *site.AlarmArea) string { return o.Name },
		refs: alarmAreaRefs,
		fill: func(o *site.AlarmArea) {
			empty(&o.DoorIDs)
			empty(&o.Inputs)
			empty(&o.AlarmIDs)
			empty(&o.ArmedIDs)
			empty(&o.DelayIDs)
		},
	},
	&kind[site.DoorSet]{
		word: "door set", list: func(c *site.Config) *[]site.DoorSet { return &c.Sets },
		id: func(o *site.DoorSet) *site.ID { return &o.ID }, name: func(o *site.DoorSet) string { return o.Name },
		refs: func(o *site.DoorSet) []Ref { return refs("doorIds", "door", o.DoorIDs...) },
		fill: func(o *site.DoorSet) { empty(&o.DoorIDs) },
	},
	&kind[site.DatedChange]{
		word: "dated change", list: func(c *site.Config) *[]site.DatedChange { return &c.Changes },
		id: func(o *site.DatedChange) *site.ID { return &o.ID }, name: func(o *site.DatedChange) string { return o.Name },
		refs: func(o *site.DatedChange) []Ref {
			return slices.Concat(refs("doorIds", "door", o.DoorIDs...), refs("floorIds", "floor", o.FloorIDs...),
				refs("siteIds", "site", o.SiteIDs...), refs("setIds", "door set", o.SetIDs...))
		},
		fill: func(o *site.DatedChange) {
			empty(&o.DoorIDs)
			empty(&o.FloorIDs)
			empty(&o.SiteIDs)
			empty(&o.SetIDs)
		},
	},
	&kind[site.Person]{
		word: "person", many: func(c *site.Config) *[]*site.Person { return &c.People },
		id: func(o *site.Person) *site.ID { return &o.ID }, name: func(o *site.Person) string { return o.Name },
		// Two people may have one name.
		scope: func(o *site.Person) site.ID { return o.ID },
		refs:  personRefs,
		fill: func(o *site.Person) {
			empty(&o.DepartmentIDs)
			empty(&o.Credentials)
			empty(&o.Levels)
		},
	},
}

// empty turns a list that was never written into an empty one.
func empty[T any](list *[]T) {
	if *list == nil {
		*list = []T{}
	}
}

func refs(field, kind string, ids ...site.ID) []Ref {
	var out []Ref
	for _, id := range ids {
		out = append(out, Ref{field, kind, id})
	}
	return out
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
	for _, s := range p.Segments() {
		for _, level := range s.Levels {
			out = append(out, Ref{"week", "level", site.ID(level)})
		}
	}
	return out
}

func levelRefs(l *site.Level) []Ref {
	var to []Ref
	for i, e := range l.Entries {
		at := fmt.Sprintf("entries[%d].", i)
		kind, id := e.Target.Refers()
		to = append(to, Ref{at + "target.id", kind, id}, Ref{at + "scheduleId", "schedule", e.ScheduleID})
		if e.Ride != nil {
			to = append(append(to, refs(at+"ride.floorIds", "floor", e.Ride.FloorIDs...)...),
				refs(at+"ride.carIds", "door", e.Ride.CarIDs...)...)
		}
		for k, t := range e.Except {
			kind, id := t.Refers()
			to = append(to, Ref{fmt.Sprintf("%sexcept[%d].id", at, k), kind, id})
		}
	}
	for i, id := range l.Includes {
		to = append(to, Ref{fmt.Sprintf("includes[%d]", i), "level", id})
	}
	return to
}

func reactionRefs(r *site.Reaction) []Ref {
	to := slices.Concat(refs("inputIds", "input", r.InputIDs...), refs("sourceIds", "controller", r.SourceIDs...),
		refs("outputIds", "output", r.OutputIDs...),
		refs("areaId", "area", r.AreaID), refs("scheduleId", "schedule", r.ScheduleID),
		refs("emergencyId", "emergency", r.EmergencyID),
		refs("alarmIds", "alarm area", r.AlarmIDs...), refs("armIds", "alarm area", r.ArmIDs...))
	for i, t := range r.At {
		kind, id := t.Refers()
		to = append(to, Ref{fmt.Sprintf("at[%d].id", i), kind, id})
	}
	for i, t := range r.To {
		kind, id := t.Refers()
		to = append(to, Ref{fmt.Sprintf("to[%d].id", i), kind, id})
	}
	return to
}

func alarmAreaRefs(a *site.AlarmArea) []Ref {
	to := slices.Concat(refs("doorIds", "door", a.DoorIDs...), refs("scheduleId", "schedule", a.ScheduleID),
		refs("keyId", "input", a.KeyID),
		refs("alarmIds", "output", a.AlarmIDs...), refs("armedIds", "output", a.ArmedIDs...),
		refs("delayIds", "output", a.DelayIDs...))
	for i, w := range a.Inputs {
		to = append(to, Ref{fmt.Sprintf("inputs[%d].inputId", i), "input", w.InputID})
	}
	return to
}

func carRefs(c *site.Car) []Ref {
	if c == nil {
		return nil
	}
	var to []Ref
	for i, s := range c.Stops {
		at := fmt.Sprintf("car.stops[%d].", i)
		to = append(to, Ref{at + "floorId", "floor", s.FloorID}, Ref{at + "freeId", "schedule", s.FreeID})
	}
	return to
}

func proofRefs(p *site.Proofs) []Ref {
	to := append(refs("doorIds", "door", p.DoorIDs...), Ref{"scheduleId", "schedule", p.ScheduleID})
	for i, c := range p.Combinations {
		for k, part := range c.Parts {
			to = append(to, Ref{fmt.Sprintf("combinations[%d].parts[%d].groupId", i, k), "group", part.GroupID})
		}
	}
	return to
}

func grantRefs(list []site.Grant) []Ref {
	var to []Ref
	for i, g := range list {
		at := fmt.Sprintf("levels[%d].", i)
		kind, id := g.Target.Refers()
		to = append(to, Ref{at + "levelId", "level", g.LevelID}, Ref{at + "target.id", kind, id},
			Ref{at + "scheduleId", "schedule", g.ScheduleID})
	}
	return to
}

func personRefs(p *site.Person) []Ref {
	var to []Ref
	for i, id := range p.DepartmentIDs {
		to = append(to, Ref{fmt.Sprintf("departmentIds[%d]", i), "department", id})
	}
	return append(to, grantRefs(p.Levels)...)
}
