package lab

import (
	"errors"

	"vialbench/internal/store"
)

// otherwise is the conflict of something that is sent under an ID that is known, unless it says the same as before.
func otherwise(same bool) error {
	if same {
		return nil
	}
	return Conflict{"something else went on record under the same ID: send this again as a new one"}
}

// again reports a conflict where what failed since its ID is known says something else than what is on record.
func again[T any](err error, known func(id string) (T, error), id string, same func(T) bool) error {
	if !store.IsDuplicate(err) {
		return err
	}
	row, err := known(id)
	return errors.Join(err, otherwise(err == nil && same(row)))
}
