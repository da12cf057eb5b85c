package store

import (
	"context"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// placeRow is a row of where somebody is.
type placeRow struct {
	Person     int64 `db:"person_id"`
	Area       int64 `db:"area_id"`
	Unknown    bool  `db:"unknown"`
	At         int64 `db:"at"`
	Controller int64 `db:"controller_id"`
	Seq        int64 `db:"seq"`
}

func (p placeRow) whereabouts() pass.Whereabouts {
	return pass.Whereabouts{
		Person: site.ID(p.Person), Area: site.ID(p.Area), Unknown: p.Unknown, At: hours.Instant(p.At),
		Controller: site.ID(p.Controller), Seq: uint64(p.Seq),
	}
}

// PutPlaces keeps where people are; of each person what is given last here counts.
func (s *Store) PutPlaces(ctx context.Context, list []pass.Whereabouts) error {
	return s.in(ctx, func(tx *writing) error {
		for _, p := range list {
			if _, err := tx.execNamed(ctx, `INSERT INTO places (person_id, area_id, unknown, at, controller_id, seq)
				VALUES (:person_id, :area_id, :unknown, :at, :controller_id, :seq)
				ON CONFLICT (person_id) DO UPDATE SET area_id = excluded.area_id, unknown = excluded.unknown, at = excluded.at,
					controller_id = excluded.controller_id, seq = excluded.seq`,
				placeRow{int64(p.Person), int64(p.Area), p.Unknown, int64(p.At), int64(p.Controller), int64(p.Seq)}); err != nil {
				return err
			}
		}
		return nil
	})
}

// Places lists where people are.
func (s *Store) Places(ctx context.Context) ([]pass.Whereabouts, error) {
	var rows []placeRow
	err := s.db.SelectContext(ctx, &rows,
		`SELECT person_id, area_id, unknown, at, controller_id, seq FROM places ORDER BY person_id`)
	out := make([]pass.Whereabouts, len(rows))
	for i, r := range rows {
		out[i] = r.whereabouts()
	}
	return out, err
}

// clearanceRow is a row of who is cleared.
type clearanceRow struct {
	Person     int64  `db:"person_id"`
	Screening  int64  `db:"screening_id"`
	Until      int64  `db:"until"`
	At         int64  `db:"at"`
	Controller int64  `db:"controller_id"`
	Seq        int64  `db:"seq"`
	By         string `db:"by_whom"`
}

// PutClearances keeps who is cleared; of each person and screening what is given last here counts.
func (s *Store) PutClearances(ctx context.Context, list []pass.Clearance) error {
	return s.in(ctx, func(tx *writing) error {
		for _, c := range list {
			if _, err := tx.execNamed(ctx, `INSERT INTO clearances (person_id, screening_id, until, at, controller_id, seq, by_whom)
				VALUES (:person_id, :screening_id, :until, :at, :controller_id, :seq, :by_whom)
				ON CONFLICT (person_id, screening_id) DO UPDATE SET until = excluded.until, at = excluded.at,
					controller_id = excluded.controller_id, seq = excluded.seq, by_whom = excluded.by_whom`,
				clearanceRow{int64(c.Person), int64(c.Screening), int64(c.Until), int64(c.At), int64(c.Controller), int64(c.Seq),
					c.By}); err != nil {
				return err
			}
		}
		return nil
	})
}

// Clearances lists who is cleared, or was.
func (s *Store) Clearances(ctx context.Context) ([]pass.Clearance, error) {
	var rows []clearanceRow
	err := s.db.SelectContext(ctx, &rows,
		`SELECT person_id, screening_id, until, at, controller_id, seq, by_whom FROM clearances ORDER BY person_id, screening_id`)
	out := make([]pass.Clearance, len(rows))
	for i, r := range rows {
		out[i] = pass.Clearance{Person: site.ID(r.Person), Screening: site.ID(r.Screening), Until: hours.Instant(r.Until),
			At:         hours.Instant(r.At),
			Controller: site.ID(r.Controller), Seq: uint64(r.Seq), By: r.By}
	}
	return out, err
}
