package image

import (
	"fmt"

	"amberkeystone/core/site"
)

// check refuses what Compile could not stand on.
func (im *Image) check() error {
	plans, schedules := map[site.ID]bool{}, map[site.ID]bool{}
	for _, p := range im.Plans {
		plans[p.ID] = true
		p.Name = "-"
		if faults := p.Check(); len(faults) > 0 {
			return fmt.Errorf("image: plan %d: %w", p.ID, faults)
		}
	}
	for _, s := range im.Schedules {
		schedules[s.ID] = true
		s.Name = "-" // images leave names out, and Check wants one
		if faults := s.Check(); len(faults) > 0 {
			return fmt.Errorf("image: schedule %d: %w", s.ID, faults)
		}
	}
	for _, h := range im.Holidays {
		if field, words := h.Valid(); field != "" {
			return fmt.Errorf("image: holiday %d: %s: %s", h.ID, field, words)
		}
	}
	for _, d := range im.Doors {
		if !plans[d.PlanID] {
			return fmt.Errorf("image: door %d follows plan %d, which is not in it", d.ID, d.PlanID)
		}
		for _, id := range d.Schedules() {
			if !schedules[id] {
				return fmt.Errorf("image: a floor of car %d follows schedule %d, which is not in it", d.ID, id)
			}
		}
	}
	for _, x := range im.Rules.Proofs {
		if !schedules[x.ScheduleID] {
			return fmt.Errorf("image: rule %d follows schedule %d, which is not in it", x.ID, x.ScheduleID)
		}
	}
	for _, x := range im.Rules.Reactions {
		if !schedules[x.ScheduleID] {
			return fmt.Errorf("image: reaction %d follows schedule %d, which is not in it", x.ID, x.ScheduleID)
		}
	}
	for _, x := range im.Rules.AlarmAreas {
		if x.ScheduleID != 0 && !schedules[x.ScheduleID] {
			return fmt.Errorf("image: alarm area %d follows schedule %d, which is not in it", x.ID, x.ScheduleID)
		}
	}
	if err := im.checkLevels(schedules); err != nil {
		return err
	}
	return im.checkCards()
}

// checkLevels refuses levels that lead nowhere, and people whose levels are not there.
func (im *Image) checkLevels(schedules map[site.ID]bool) error {
	doors, levels := map[site.ID]bool{}, map[site.ID]bool{}
	for i := range im.Doors {
		doors[im.Doors[i].ID] = true
	}
	for _, l := range im.Levels {
		levels[l.ID] = true
		for _, e := range l.Entries {
			if !doors[e.DoorID] || !schedules[e.ScheduleID] {
				return fmt.Errorf(
					"image: level %d names door %d or schedule %d, which are not in it",
					l.ID,
					e.DoorID,
					e.ScheduleID,
				)
			}
		}
	}
	for _, p := range im.People {
		for _, g := range p.Levels {
			if !levels[g.LevelID] {
				return fmt.Errorf("image: person %d has level %d, which is not in it", p.ID, g.LevelID)
			}
		}
	}
	return nil
}

// checkCards refuses cards and facilities of unknown formats.
func (im *Image) checkCards() error {
	formats := map[string]bool{}
	for _, f := range im.Settings.AllFormats() {
		formats[f.Name] = true
	}
	for _, p := range im.People {
		for _, c := range p.Cards {
			if !formats[c.Format] {
				return fmt.Errorf("image: card format %q is not known", c.Format)
			}
		}
	}
	for _, f := range im.Settings.Cards {
		if !formats[f.Format] {
			return fmt.Errorf("image: card format %q is not known", f.Format)
		}
	}
	return nil
}
