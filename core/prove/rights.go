package prove

import (
	"iter"
	"slices"

	"amberkeystone/core/site"
)

// Right is a line of a list of rights: somebody may pass a door, by something that they hold, while a schedule is open.
type Right struct {
	Person *site.Person
	Door   *site.Door
	Through
	Side site.Side // at which of its readers
}

// Rights are all that people of a configuration hold at doors, person by person, a person's doors in the order of the
// building. One door may come several times, as often as something leads there.
func (b *Book) Rights(people []*site.Person, doors []*site.Door) iter.Seq[Right] {
	return func(yield func(Right) bool) {
		held, places := b.Config.HoldingsOf(), site.NewPlaces(b.Config)
		order := make(map[site.ID]int, len(doors))
		for i, d := range doors {
			order[d.ID] = i
		}
		entries := map[site.ID][]placedEntry{}
		of := func(level site.ID) []placedEntry {
			if list, ok := entries[level]; ok {
				return list
			}
			l := b.levelOf(level)
			list := []placedEntry{}
			for _, e := range places.Entries(&l) {
				if i, ok := order[e.DoorID]; ok {
					list = append(list, placedEntry{i, e})
				}
			}
			entries[level] = list
			return list
		}
		at := make([][]Right, len(doors))
		for _, p := range people {
			for _, h := range held(p) {
				for _, e := range of(h.LevelID) {
					at[e.at] = append(at[e.at], Right{p, doors[e.at], Through{
						LevelID: h.LevelID, Level: b.LevelWords(h.LevelID), ScheduleID: e.ScheduleID, Schedule: b.Name(e.ScheduleID),
						By: b.heldBy(h), Dates: h.Dates.Words(),
					}, e.Side})
				}
			}
			for i := range at {
				for _, r := range at[i] {
					if !yield(r) {
						return
					}
				}
				at[i] = at[i][:0]
			}
		}
	}
}

// doorsAtOnce is of how many doors a list by door is worked out at a time: what it holds meanwhile is bounded.
const doorsAtOnce = 50

// RightsByDoor are the same, door by door, the people of each in their order.
func (b *Book) RightsByDoor(people []*site.Person, doors []*site.Door) iter.Seq[Right] {
	return func(yield func(Right) bool) {
		for part := range slices.Chunk(doors, doorsAtOnce) {
			lists := map[site.ID][]Right{}
			for r := range b.Rights(people, part) {
				lists[r.Door.ID] = append(lists[r.Door.ID], r)
			}
			for _, d := range part {
				for _, r := range lists[d.ID] {
					if !yield(r) {
						return
					}
				}
			}
		}
	}
}

// placedEntry is an entry of a level with where its door stands in a list.
type placedEntry struct {
	at int
	site.Covered
}
