package store

import (
	"context"
	"encoding/json"
	"strings"
	"unicode/utf8"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// index lets an object be found by what stands in it, and by the words that come along: of a person their departments.
// A fresh one is not in the index yet.
func (tx *writing) index(ctx context.Context, k model.Kind, o any, also string, fresh bool) error {
	if k.Word() == "settings" {
		return nil
	}
	text := k.Name(o)
	if p, ok := o.(*site.Person); ok {
		text += "\n" + also + "\n" + p.Number + " "
		for _, c := range p.Credentials {
			text += c.String() + " "
		}
	}
	id := *k.ID(o)
	if !fresh {
		if _, err := tx.exec(ctx, `DELETE FROM search WHERE rowid = ?`, id); err != nil {
			return err
		}
	}
	tx.found[id] = text
	return nil
}

// writeIndex puts all that is to be found into the index, at once: it is written out anew for each statement.
func (tx *writing) writeIndex(ctx context.Context) error {
	if len(tx.found) == 0 {
		return nil
	}
	list, err := json.Marshal(tx.found)
	if err != nil {
		return err
	}
	_, err = tx.exec(ctx, `INSERT INTO search (rowid, text) SELECT CAST(key AS INTEGER), value FROM json_each(?)`,
		string(list))
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
