package store

import (
	"context"
	"strings"
	"unicode/utf8"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// index lets an object be found by what stands in it.
func (tx *writing) index(ctx context.Context, k model.Kind, o any) error {
	if k.Word() == "settings" {
		return nil
	}
	text := k.Name(o)
	if p, ok := o.(*site.Person); ok {
		section, err := tx.departmentNames(ctx, p)
		if err != nil {
			return err
		}
		text += "\n" + section + "\n" + p.Number + " "
		for _, c := range p.Credentials {
			text += c.String() + " "
		}
	}
	id := *k.ID(o)
	if _, err := tx.ExecContext(ctx, `DELETE FROM search WHERE rowid = ?`, id); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `INSERT INTO search (rowid, text) VALUES (?, ?)`, id, text)
	return err
}

// matches is from where, and under which condition, objects are read in which a text stands. It begins with the index,
// so that the few are looked up and not the many gone through. The index knows three letters in a row and more; of
// fewer, the names are gone through, and the numbers of cards that begin so.
func matches(text string) (from, where string, args []any) {
	if utf8.RuneCountInString(text) >= 3 {
		return `search CROSS JOIN objects ON id = search.rowid`, `search MATCH ?`,
			[]any{`"` + strings.ReplaceAll(text, `"`, `""`) + `"`}
	}
	like := escapeLike(text) + "%"
	return `objects`, `(name LIKE ? ESCAPE '\' OR id IN (SELECT person_id FROM cards
		WHERE number LIKE ? ESCAPE '\'))`, []any{
			"%" + like,
			like,
		}
}
