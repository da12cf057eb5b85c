package server

import (
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/cards"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
)

// WalletCard is a card that lies ready on the bench.
type WalletCard struct {
	Kind     string  `json:"kind" enum:"known,unknown,facility,damaged"`
	Label    string  `json:"label"`
	Number   string  `json:"number"`
	PersonID site.ID `json:"personId"`
	Bits     string  `json:"bits"`
}

// wallet lays out cards for a door: of people with and without a way in, and three that must fail.
func (s *Server) wallet(door site.ID, search string) ([]WalletCard, error) {
	b := s.current()
	if b.Door(door) == nil {
		return nil, huma.Error404NotFound("This door does not exist, or no longer.")
	}
	opens := map[site.ID]bool{}
	for _, w := range b.Ways(door) {
		opens[w.LevelID] = true
	}
	var with, without []WalletCard
	used := map[uint64]bool{}
	search = strings.ToLower(strings.TrimSpace(search))
	for _, p := range b.Effective.People {
		way := slices.ContainsFunc(p.Levels, func(g site.Grant) bool { return opens[g.LevelID] })
		for _, c := range p.Credentials {
			facility, number, ok := c.Card()
			if !ok { // the bench's hands hold cards
				continue
			}
			used[number] = true
			if search != "" && !strings.Contains(strings.ToLower(p.Name+" "+c.String()), search) {
				continue
			}
			f := b.Config.Settings.Format(c.Format)
			if f == nil {
				continue
			}
			bits, err := f.Encode(facility, number)
			if err != nil {
				continue
			}
			w := WalletCard{Kind: "known", Label: p.Name, Number: c.String(), PersonID: p.ID, Bits: bits.String()}
			if c.Status != site.Active {
				w.Number += ", " + string(c.Status)
			}
			if way {
				with = append(with, w)
			} else {
				without = append(without, w)
			}
		}
	}
	out := []WalletCard{}
	if search != "" {
		return append(append(out, head(with, 8)...), head(without, 8)...), nil
	}
	out = append(append(out, head(spread(with, b.Config.People), 3)...), head(spread(without, b.Config.People), 1)...)
	return append(out, s.strangers(b, used)...), nil
}

// spread puts one card of each department first, so that the wallet shows different ways in.
func spread(list []WalletCard, people []*site.Person) []WalletCard {
	department := map[site.ID]site.ID{}
	for _, p := range people {
		if len(p.DepartmentIDs) > 0 {
			department[p.ID] = p.DepartmentIDs[0]
		}
	}
	var first, rest []WalletCard
	seen := map[site.ID]bool{}
	for _, w := range list {
		if d := department[w.PersonID]; !seen[d] || d == 0 {
			seen[d] = true
			first = append(first, w)
		} else {
			rest = append(rest, w)
		}
	}
	return append(first, rest...)
}

func head[T any](list []T, n int) []T { return list[:min(n, len(list))] }

// strangers are the cards that must fail: unknown, of another facility, and a read with a flipped bit.
func (s *Server) strangers(b *prove.Book, used map[uint64]bool) []WalletCard {
	facility, accepts := uint64(1), []uint64{}
	for _, p := range slices.Backward(b.Config.People) {
		for _, c := range p.Credentials {
			if f, _, ok := c.Card(); ok && c.Format == cards.Standard26.Name {
				facility = f
			}
		}
	}
	for _, f := range b.Config.Settings.Cards {
		if f.Format == cards.Standard26.Name && len(f.Facilities) > 0 {
			facility, accepts = f.Facilities[0], f.Facilities
		}
	}
	number := uint64(55001)
	for used[number] {
		number++
	}
	name := func(f uint64) string { return cards.Number(cards.Standard26.Name, f, number) }
	good, err := cards.Standard26.Encode(facility, number)
	if err != nil {
		return nil
	}
	out := []WalletCard{{Kind: "unknown", Label: "Unknown card", Number: name(facility), Bits: good.String()}}
	if len(accepts) > 0 {
		foreign := uint64(77)
		for slices.Contains(accepts, foreign) {
			foreign++
		}
		if bits, err := cards.Standard26.Encode(foreign, number); err == nil {
			out = append(
				out,
				WalletCard{Kind: "facility", Label: "Other facility", Number: name(foreign), Bits: bits.String()},
			)
		}
	}
	return append(
		out,
		WalletCard{Kind: "damaged", Label: "Damaged read", Number: "one bit flipped", Bits: good.Flip(20).String()},
	)
}
