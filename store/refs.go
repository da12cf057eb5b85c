package store

import (
	"context"
	"errors"
	"fmt"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// point writes what an object refers to; a fresh one did not refer to anything.
func point(ctx context.Context, tx *writing, id site.ID, refs []model.Ref, fresh bool) error {
	if !fresh {
		if _, err := tx.exec(ctx, `DELETE FROM refs WHERE from_id = ?`, id); err != nil {
			return err
		}
	}
	done := map[site.ID]bool{0: true}
	for _, to := range refs {
		if done[to.ID] {
			continue
		}
		done[to.ID] = true
		r, err := tx.exec(
			ctx,
			`INSERT INTO refs (from_id, to_id) SELECT ?, id FROM objects WHERE id = ? AND kind = ?`,
			id,
			to.ID,
			to.Kind,
		)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, gone(to))
		}
	}
	return nil
}

func gone(r model.Ref) error {
	return &Taken{
		r.Field,
		fmt.Sprintf(
			"it points to %s %d, which does not exist, or no longer; choose another, or load the page again",
			r.Kind,
			r.ID,
		),
	}
}
