package store

import (
	"context"
	"io/fs"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/site"
)

// A database of the first layout is brought up to date: what was sent, PINs and their length, links and events are
// there.
func TestDatabaseOfTheFirstLayout(t *testing.T) {
	path := filepath.Join(t.TempDir(), "old.db")
	db, err := sqlx.Open("sqlite", "file:"+path)
	require.NoError(t, err)
	sub, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	require.NoError(t, err)
	_, err = p.UpTo(context.Background(), 1)
	require.NoError(t, err)
	hash, err := cards.HashPIN(nil, "482913").MarshalText()
	require.NoError(t, err)
	for _, q := range []string{
		`INSERT INTO objects (id, kind, name, rev, body) VALUES (1, 'settings', 'settings', 3, '{"name":"Old","pinLength":6}')`,
		`INSERT INTO objects (id, kind, name, rev, body) VALUES (2, 'person', 'Ada', 4, '{"name":"Ada","department":"Crew","cards":[{"format":"26-bit","facility":42,"number":7,"status":"lost"}]}')`,
		`INSERT INTO cards (format, facility, number, person_id) VALUES ('26-bit', 42, '7', 2)`,
		`INSERT INTO objects (id, kind, name, rev, body) VALUES (4, 'level', 'Staff', 1, '{"name":"Staff","entries":[{"doorId":5,"scheduleId":6}]}')`,
		`INSERT INTO objects (id, kind, name, rev, body) VALUES (3, 'controller', 'Riser', 1, '{"name":"Riser","serial":"S"}')`,
		`INSERT INTO codes (hash, person_id, duress) VALUES ('` + string(hash) + `', 2, 0)`,
		`INSERT INTO links (controller_id, address, key, image, hash, names, sent_at) VALUES (3, '127.0.0.1:1', x'01', x'7b7d', 'h', '{"2":"Ada"}', 5)`,
		`INSERT INTO audit (id, at, who, action, kind, object_id, name, rev, was) VALUES (1, 1, 'Robin', 'removed', 'person', 9, 'Ben', 1, '{"name":"Ben"}')`,
		`INSERT INTO sessions (token, data, expiry) VALUES ('in the clear', x'00', 99999999999999)`,
	} {
		_, err := db.Exec(q)
		require.NoError(t, err, q)
	}
	for i, department := range []string{"crew", "Loans ", ""} { // as people wrote it
		_, err := db.Exec(`INSERT INTO objects (id, kind, name, rev, body) VALUES (?, 'person', ?, 1, json_object('name', ?, 'department', ?))`,
			20+i, "Q"+department, "Q"+department, department)
		require.NoError(t, err)
	}
	for i, outcome := range []string{"granted", "refused"} {
		_, err = db.Exec(`INSERT INTO events (controller_id, log, seq, at, stored_at, kind, outcome, reason, door_id, person_id, controller, door, person,
			headline, detail, trace, mend, zone, raw) VALUES (3, '', ?, ?, 0, ?, ?, '', 5, 2, '', '', '', '', '', '[]', '', '', '{}')`,
			i, 7000+i, outcome, outcome)
		require.NoError(t, err)
	}
	require.NoError(t, db.Close())

	s, err := Open(path)
	require.NoError(t, err)
	defer s.Close()
	c, err := s.Load(ctx)
	require.NoError(t, err)
	assert.Equal(t, 6, c.People[0].PINLength)
	lost := site.NewCard("26-bit", 42, 7)
	lost.Status = site.Lost
	assert.Equal(t, []site.Credential{lost}, c.People[0].Credentials)
	names := map[site.ID]string{}
	for _, d := range c.Departments {
		names[d.ID] = d.Name
	}
	of := func(id site.ID) (out []string) {
		for _, d := range c.Person(id).DepartmentIDs {
			out = append(out, names[d])
		}
		return out
	}
	assert.Len(t, names, 2, "%v", names)
	assert.Equal(t, of(2), of(20), "one department, however it was written")
	assert.Equal(t, []string{"Loans"}, of(21))
	assert.Empty(t, of(22))
	seen, err := s.LastSeen(ctx, 2)
	require.NoError(t, err)
	assert.Equal(t, []Seen{{Person: 2, At: 7000, Door: 5}}, seen, "when they were let in, not when they were refused")
	assert.Equal(t, []site.Entry{site.At(5, 6)}, c.Levels[0].Entries)
	for q, n := range map[string]int{"ada": 1, "crew": 2, "42-00007": 1} {
		list, _, err := read[site.Person](ctx, s, Page{Search: q, Limit: 5})
		require.NoError(t, err)
		assert.Len(t, list, n, "what was there is found: %s", q)
	}
	sent, err := s.Sent(ctx, 3, "h")
	require.NoError(t, err)
	assert.Equal(t, Sent{Image: []byte("{}"), Names: `{"2":"Ada"}`}, sent)
	l, err := s.LinkOf(ctx, 3)
	require.NoError(t, err)
	assert.Equal(t, "h", l.Hash)
	assert.Empty(t, l.Identity)
	require.NoError(t, s.SetIdentity(ctx, 3, []byte("first")))
	require.NoError(t, s.SetIdentity(ctx, 3, []byte("second")))
	l, err = s.LinkOf(ctx, 3)
	require.NoError(t, err)
	assert.Equal(t, []byte("first"), l.Identity, "the first that answers is remembered")
	require.NoError(t, s.Undo(ctx, "Robin", 1), "a removal from before PINs were kept with it")
	_, found, err := s.SessionFind(ctx, "in the clear")
	require.NoError(t, err)
	assert.False(t, found)
	v, err := Get[site.Person](ctx, s, 9)
	require.NoError(t, err)
	assert.Equal(t, "Ben", v.Value.Name)
}
