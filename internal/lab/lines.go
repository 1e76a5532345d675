package lab

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"

	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// factTable is how facts of a kind come in as a table: its columns, of which the first need
// must be there, the fact of a line, and in which column each field of a fact stands.
type factTable struct {
	columns []string
	need    int
	fact    func(plan run.Plan, r row) Statement
	places  map[string]string
}

// maxFactLines is the longest table of facts.
const maxFactLines = 500

// TakeLines states the facts of a table, one after the other, all of them or none. A line
// that is on record already changes nothing. Problems name line and column: "/3/shown".
func (l *Lab) TakeLines(ctx context.Context, by Actor, runID string, in io.Reader) (RunView, error) {
	var view RunView
	err := l.change(ctx, by, func(tx *store.Store) (err error) {
		if view, err = runView(tx, runID, true); err != nil {
			return err
		}
		k, err := kindNamed(view.Plan.Kind)
		if err != nil {
			return err
		}
		if k.lines == nil {
			return Conflict{"this run takes no table"}
		}
		rows, err := readTable(k.lines.columns, k.lines.need, in)
		if err != nil {
			return err
		}
		if len(rows) > maxFactLines {
			return verdict.Problems{{Field: rows[maxFactLines].place(), Reason: fmt.Sprintf("at most %d lines are taken in at once", maxFactLines)}}
		}
		return l.takeLines(tx, by, &view, k.lines, rows)
	})
	if err != nil {
		return RunView{}, err
	}
	return l.told(ctx, view)
}

// takeLines admits the lines one after the other, and records them in one go.
func (l *Lab) takeLines(tx *store.Store, by Actor, view *RunView, table *factTable, rows []row) error {
	seen := map[string]int{}
	gate := run.NewGate(view.plan, view.stated())
	now := l.now()
	var admitted []store.Fact
	for _, r := range rows {
		s := table.fact(view.plan, r)
		s.By = by.Initials
		// The same line again is the same reading, unless the table has it twice.
		text := view.ID
		for _, column := range table.columns {
			text += "\x00" + r.cells[column]
		}
		seen[text]++
		s.ID = uuid.NewSHA1(uuid.NameSpaceOID, fmt.Append(nil, text, seen[text])).String()
		f, err := s.Read(view.plan)
		if err != nil {
			return underColumns(r, table, err)
		}
		if slices.ContainsFunc(view.Facts, func(old store.Fact) bool { return old.ID == f.ID }) {
			continue
		}
		f.At = now
		if err := gate.Admit(f, now); err != nil {
			return underColumns(r, table, err)
		}
		admitted = append(admitted, factRow(view, by, f, now))
	}
	if len(admitted) == 0 {
		return nil
	}
	_, err := l.recordAll(tx, by, view, admitted, fmt.Sprintf("run %d: a table of %d lines", view.Number, len(admitted)))
	return err
}

// underColumns files the problems of a fact under the columns of its line.
func underColumns(r row, table *factTable, err error) error {
	var problems verdict.Problems
	if !errors.As(err, &problems) {
		return err
	}
	moved := make(verdict.Problems, len(problems))
	for i, p := range problems {
		column, ok := table.places[strings.TrimPrefix(p.Field, "/")]
		if !ok {
			column = table.columns[0]
		}
		moved[i] = verdict.Problem{Field: r.place() + "/" + column, Reason: p.Reason}
	}
	return moved
}
