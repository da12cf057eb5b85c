package store

import (
	"context"

	"amberkeystone/core/site"
)

// Link is how a controller is reached, and when something was last sent to it.
type Link struct {
	ControllerID site.ID `db:"controller_id"`
	Address      string  `db:"address"`
	Key          []byte  `db:"key"`
	Identity     []byte  `db:"identity"` // its public key; empty until it is known, as in databases from before
	Hash         string  `db:"hash"`     // of what was sent
	SentAt       *int64  `db:"sent_at"`
	Wanted       bool    `db:"wanted"` // somebody asked to send, and it has not been done
	Asked        int64   `db:"asked"`  // how often somebody asked, ever
}

// Sent is what was sent to a controller, with the names that things had then.
type Sent struct {
	Image []byte `db:"image"`
	Names string `db:"names"`
}

const linkColumns = `controller_id, address, key, identity, hash, sent_at, wanted, asked`

// Links reads every controller's link.
func (s *Store) Links(ctx context.Context) ([]Link, error) {
	var out []Link
	err := s.db.SelectContext(ctx, &out, `SELECT `+linkColumns+` FROM links`)
	return out, err
}

// LinkOf reads the link of one controller, or ErrMissing.
func (s *Store) LinkOf(ctx context.Context, id site.ID) (l Link, err error) {
	err = s.db.GetContext(ctx, &l, `SELECT `+linkColumns+` FROM links WHERE controller_id = ?`, id)
	return l, missing(err)
}

// Sent reads what was sent to a controller under a hash, or ErrMissing.
func (s *Store) Sent(ctx context.Context, id site.ID, hash string) (Sent, error) {
	var out Sent
	err := s.db.GetContext(ctx, &out, `SELECT image, names FROM sent WHERE controller_id = ? AND hash = ?`, id, hash)
	return out, missing(err)
}

// Taking is a controller that is being taken into service: both sides have agreed on a key, and a person has not yet
// compared the codes. It is kept before the controller holds the key for good, so that none is ever without.
type Taking struct {
	Serial   string `db:"serial"`
	Address  string `db:"address"`
	Key      []byte `db:"key"`
	Identity []byte `db:"identity"`
	Code     string `db:"code"` // what both sides show
	Who      string `db:"who"`
	At       int64  `db:"at"`
}

// BeginTaking keeps a taking, in place of an earlier one of the same controller.
func (s *Store) BeginTaking(ctx context.Context, t Taking) error {
	t.At = now()
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.execNamed(ctx, `INSERT INTO takings (serial, address, key, identity, code, who, at)
			VALUES (:serial, :address, :key, :identity, :code, :who, :at)
			ON CONFLICT (serial) DO UPDATE SET address = excluded.address, key = excluded.key, identity = excluded.identity,
			code = excluded.code, who = excluded.who, at = excluded.at`, t)
		return err
	})
}

// Takings reads every taking.
func (s *Store) Takings(ctx context.Context) ([]Taking, error) {
	var out []Taking
	err := s.db.SelectContext(ctx, &out, `SELECT * FROM takings`)
	return out, err
}

// TakingOf reads the taking of a serial, or ErrMissing.
func (s *Store) TakingOf(ctx context.Context, serial string) (t Taking, err error) {
	err = s.db.GetContext(ctx, &t, `SELECT * FROM takings WHERE serial = ?`, serial)
	return t, missing(err)
}

// DropTaking forgets a taking: the codes differed, or somebody thought better of it.
func (s *Store) DropTaking(ctx context.Context, who, serial string) error {
	return s.in(ctx, func(tx *writing) error {
		r, err := tx.exec(ctx, `DELETE FROM takings WHERE serial = ?`, serial)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return err
		}
		return audit(ctx, tx, who, "not taken into service", "controller", 0, serial, 0, nil, nil)
	})
}

// TakeIntoService adds a controller and its link in one step, and with place a site with one floor for it, so that
// doors have where to be. A controller that is known already keeps what it is and gets the new key.
func (s *Store) TakeIntoService(
	ctx context.Context,
	who string,
	c *site.Controller,
	place *site.Site,
	t Taking,
	replaces bool,
) (rev int64, err error) {
	err = s.in(ctx, func(tx *writing) error {
		if place != nil {
			if _, err := tx.put(ctx, who, "", place, 0); err != nil {
				return err
			}
			floor := site.Floor{Name: "Level 0", SiteID: place.ID}
			if _, err := tx.put(ctx, who, "", &floor, 0); err != nil {
				return err
			}
			c.SiteID = place.ID
		}
		if c.ID == 0 {
			if rev, err = tx.put(ctx, who, "taken into service", c, 0); err != nil {
				return err
			}
		} else if err := tx.get(ctx, &rev, `SELECT rev FROM objects WHERE id = ?`, c.ID); err != nil {
			return missing(err)
		} else if replaces {
			if rev, err = tx.put(ctx, who, "replaced", c, rev); err != nil {
				return err
			}
		} else if err := audit(ctx, tx, who, "taken into service again", "controller", c.ID, c.Name, 0, nil,
			nil); err != nil {
			return err
		}
		if _, err := tx.exec(ctx, `DELETE FROM takings WHERE serial = ?`, t.Serial); err != nil {
			return err
		}
		_, err := tx.exec(ctx, `INSERT INTO links (controller_id, address, key, identity) VALUES (?, ?, ?, ?)
			ON CONFLICT (controller_id) DO UPDATE SET address = excluded.address, key = excluded.key, identity = excluded.identity,
			hash = '', sent_at = NULL, wanted = 0`, c.ID, t.Address, t.Key, t.Identity)
		return err
	})
	return rev, err
}

// SetIdentity remembers the public key of a controller from before controllers had one.
func (s *Store) SetIdentity(ctx context.Context, id site.ID, identity []byte) error {
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.exec(
			ctx,
			`UPDATE links SET identity = ? WHERE controller_id = ? AND identity IS NULL`,
			identity,
			id,
		)
		return err
	})
}

// sentKept is how many images of one controller are kept: what it holds, and what events on their way may be from.
const sentKept = 4

// SetSent records what a controller holds now. Asked is Link.Asked from before the send began: who asked later still
// waits.
func (s *Store) SetSent(
	ctx context.Context,
	who string,
	id site.ID,
	name string,
	image []byte,
	hash, names string,
	asked int64,
) error {
	return s.in(ctx, func(tx *writing) error {
		if _, err := tx.exec(ctx, `UPDATE links SET hash = ?, sent_at = ?,
			wanted = CASE WHEN asked = ? THEN 0 ELSE wanted END WHERE controller_id = ?`, hash, now(), asked, id); err != nil {
			return err
		}
		if _, err := tx.exec(ctx, `INSERT INTO sent (controller_id, hash, image, names, at) VALUES (?, ?, ?, ?, ?)
			ON CONFLICT (controller_id, hash) DO UPDATE SET image = excluded.image, names = excluded.names, at = excluded.at`,
			id, hash, image, names, now()); err != nil {
			return err
		}
		if _, err := tx.exec(ctx, `DELETE FROM sent WHERE controller_id = ? AND hash NOT IN
			(SELECT hash FROM sent WHERE controller_id = ? ORDER BY at DESC, rowid DESC LIMIT ?)`, id, id, sentKept); err != nil {
			return err
		}
		return audit(ctx, tx, who, "sent", "controller", id, name, 0, nil, nil)
	})
}

// Want remembers that a controller gets its image, now or when it returns.
func (s *Store) Want(ctx context.Context, id site.ID) error {
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.exec(ctx, `UPDATE links SET wanted = 1, asked = asked + 1 WHERE controller_id = ?`, id)
		return err
	})
}

// Unwant takes that back.
func (s *Store) Unwant(ctx context.Context, id site.ID) error {
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.exec(ctx, `UPDATE links SET wanted = 0 WHERE controller_id = ?`, id)
		return err
	})
}
