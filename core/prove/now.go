package prove

import (
	"cmp"
	"fmt"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Layer is one of the things that may decide what a door asks, highest first.
type Layer struct {
	Name    string `json:"name"`
	Words   string `json:"words"`
	Decides bool   `json:"decides"`
}

// Now is what a door does at a moment, and next.
type Now struct {
	Sentence string        `json:"sentence" doc:"Words in **stars** matter most"`
	Mode     hours.Mode    `json:"mode"`
	Until    hours.Instant `json:"until" doc:"Unix milliseconds; 0 is for ever"`
	Layers   []Layer       `json:"layers"`
}

var modePhrases = map[hours.Mode]string{
	hours.Free: "The door is **free**: anybody may pass", hours.Card: "A **card** is needed", hours.PIN: "A **PIN** is needed",
	hours.CardOrPIN: "A **card or a PIN** is needed", hours.CardAndPIN: "A **card and a PIN** are needed",
	hours.Barred: "The door is **barred**: nobody comes in, whatever they hold",
}

var thenPhrases = map[hours.Mode]string{
	hours.Free: "it goes **free**", hours.Card: "a **card** is needed", hours.PIN: "a **PIN** is needed",
	hours.CardOrPIN: "a **card or a PIN** is needed", hours.CardAndPIN: "a **card and a PIN** are needed", hours.Barred: "it is **barred**",
}

// Now tells what a door does at an instant, why, and what happens next.
func (b *Book) Now(door site.ID, at hours.Instant) Now {
	p := b.plan(door)
	if p == nil {
		return Now{Sentence: "This door follows no passage plan yet, so nothing is known of its hours."}
	}
	z := b.Zone(door)
	compiled := hours.CompilePlan(p.Pattern)
	mode, segment := compiled.ModeAt(z, at)
	next := compiled.Next(z, at)
	n := Now{Mode: mode}
	if next == hours.Never {
		n.Sentence = modePhrases[mode] + " at all hours."
	} else {
		n.Until = next
		then, _ := compiled.ModeAt(z, next)
		n.Sentence = fmt.Sprintf("%s now, until **%s**; then %s", modePhrases[mode], shortStamp(z, at, next), thenPhrases[then])
		if after := compiled.Next(z, next); after != hours.Never {
			n.Sentence += fmt.Sprintf(" until **%s**", shortStamp(z, at, after))
		}
		n.Sentence += "."
	}
	week := "nothing is painted at this hour"
	if segment {
		week = fmt.Sprintf("%s · %s until %s", p.Name, mode, shortStamp(z, at, cmp.Or(n.Until, at)))
	}
	n.Layers = []Layer{
		{"Plan, week", week, segment},
		{"Plan, otherwise", fmt.Sprintf("%s · %s", p.Name, p.Default), !segment},
	}
	return n
}

// Way is one way to come in through a door: a level with its schedule, and how many hold it.
type Way struct {
	LevelID    site.ID `json:"levelId"`
	Level      string  `json:"level"`
	ScheduleID site.ID `json:"scheduleId"`
	Schedule   string  `json:"schedule"`
	People     int     `json:"people" doc:"How many people hold the level"`
}

// Ways lists the levels that open a door, most people first.
func (b *Book) Ways(door site.ID) []Way {
	holders := map[site.ID]int{}
	for i := range b.Config.People {
		for _, g := range b.Config.People[i].Levels {
			holders[g.LevelID]++
		}
	}
	var out []Way
	for _, l := range b.Config.Levels {
		for _, e := range l.Entries {
			if e.DoorID == door {
				out = append(out, Way{l.ID, l.Name, e.ScheduleID, b.Name(e.ScheduleID), holders[l.ID]})
			}
		}
	}
	slices.SortStableFunc(out, func(x, y Way) int { return y.People - x.People })
	return out
}

// Mark is a stretch of one day of a real week at a door, in wall-clock minutes.
type Mark struct {
	Start int        `json:"start"`
	End   int        `json:"end"`
	Mode  hours.Mode `json:"mode"`
}

// RealDay is one date at a door.
type RealDay struct {
	Date  string `json:"date"`
	Marks []Mark `json:"marks"`
}

// RealWeek returns what a door asks on the seven dates from a day on, by the clock on the wall.
func (b *Book) RealWeek(door site.ID, from hours.Day) []RealDay {
	p := b.plan(door)
	if p == nil {
		return nil
	}
	compiled := hours.CompilePlan(p.Pattern)
	out := make([]RealDay, 7)
	for i := range out {
		day := from + hours.Day(i)
		out[i].Date = day.String()
		for minute := 0; minute < hours.DayMinutes; {
			mode, _ := compiled.Mode(day, minute)
			end := compiled.Until(day, minute)
			out[i].Marks = append(out[i].Marks, Mark{minute, end, mode})
			minute = end
		}
	}
	return out
}
