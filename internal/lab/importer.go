package lab

import (
	"errors"
	"fmt"
	"reflect"
	"strings"
	"time"

	"github.com/google/uuid"

	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/store"
)

// importer takes in one file. What it finds wrong it files by place; what belongs
// to the setup is written only once all of it was looked at.
type importer struct {
	*Lab
	tx       *store.Store
	by       Actor
	people   map[string]Actor
	problems verdict.Problems
	report   ImportReport
	todo     []func() error

	balances map[string]store.Balance  // by name, lower case
	glass    map[string]store.Glass    // by what is alike
	byKey    map[string]OwnedSubstance // substances
	byName   map[string]OwnedSubstance
	own      *owned
}

func (l *Lab) newImporter(tx *store.Store, by Actor) (*importer, error) {
	in := &importer{Lab: l, tx: tx, by: by, people: map[string]Actor{}, balances: map[string]store.Balance{}, glass: map[string]store.Glass{},
		byKey: map[string]OwnedSubstance{}, byName: map[string]OwnedSubstance{}}
	accounts, err := tx.Accounts()
	if err != nil {
		return nil, err
	}
	for _, a := range accounts {
		in.people[a.Initials] = Actor{a}
	}
	balances, err := tx.Balances()
	if err != nil {
		return nil, err
	}
	for _, b := range balances {
		in.balances[strings.ToLower(b.Name)] = b
	}
	glass, err := tx.Glass()
	if err != nil {
		return nil, err
	}
	for _, g := range glass {
		in.glass[glassKey(g.Item)] = g
	}
	known, err := substances(tx)
	if err != nil {
		return nil, err
	}
	for _, s := range known {
		in.know(s)
	}
	in.own, err = ownedBy(tx)
	return in, err
}

func (in *importer) know(s OwnedSubstance) {
	in.byKey[s.Key], in.byName[strings.ToLower(s.Name)] = s, s
}

func glassKey(i glassware.Item) string {
	return fmt.Sprint(i.Kind, "|", i.Volume, "|", i.Class, "|", i.Mark)
}

func (in *importer) take(r Records) error {
	for i, b := range r.Balances {
		in.takeBalance(fmt.Sprintf("/balances/%d", i), b)
	}
	for i, g := range r.Glass {
		in.takeGlass(fmt.Sprintf("/glass/%d", i), g)
	}
	for i, s := range r.Substances {
		in.takeSubstance(fmt.Sprintf("/substances/%d", i), s)
	}
	if err := in.carryOut(); err != nil {
		return err
	}
	for i, run := range r.Runs {
		if err := in.takeRun(fmt.Sprintf("/runs/%d", i), run); err != nil {
			return err
		}
	}
	for i, p := range r.Plans { // the bottles that they start from are there by now
		if by, ok := in.person(fmt.Sprintf("/plans/%d", i), p.By); ok {
			in.takePlanRecord(fmt.Sprintf("/plans/%d", i), by, p)
		}
	}
	if err := in.carryOut(); err != nil {
		return err
	}
	return in.problems.OrNil()
}

// carryOut writes what was found, unless something is wrong.
func (in *importer) carryOut() error {
	for _, do := range in.todo {
		if len(in.problems) > 0 {
			return nil
		}
		if err := do(); err != nil {
			return err
		}
	}
	in.todo = nil
	return nil
}

// change notes a change of the setup that is to be carried out.
func (in *importer) change(do func() error, sentence string, args ...any) {
	if len(in.report.Changes) < maxChanges {
		in.report.Changes = append(in.report.Changes, fmt.Sprintf(sentence, args...))
	}
	in.todo = append(in.todo, do)
}

func (in *importer) takeBalance(place string, b weighing.Balance) {
	b.Name = strings.TrimSpace(b.Name)
	if err := b.Check(); err != nil {
		in.problems.Add(place, "%s", err)
		return
	}
	name := strings.ToLower(b.Name)
	old, ok := in.balances[name]
	switch {
	case ok && old.Balance == b:
		in.report.Known++
	case ok:
		was := old.Balance
		old.Balance = b
		in.balances[name] = old
		in.report.Changed++
		in.change(
			func() error { return in.tx.Save(&old) },
			"changed: balance %s, %g g by %g g (was %g g by %g g)",
			b.Name,
			b.Capacity,
			b.Resolution,
			was.Capacity,
			was.Resolution,
		)
	default:
		in.balances[name] = store.Balance{Balance: b}
		in.report.Balances++
		in.change(
			func() error { _, err := in.addBalance(in.tx, b); return err },
			"new: balance %s, %g g by %g g",
			b.Name,
			b.Capacity,
			b.Resolution,
		)
	}
}

func (in *importer) takeGlass(place string, item glassware.Item) {
	item.Mark = strings.TrimSpace(item.Mark)
	if err := item.Check(); in.blame(place, err) != nil || err != nil {
		return
	}
	key := glassKey(item)
	old, ok := in.glass[key]
	switch {
	case ok && old.Item == item:
		in.report.Known++
	case ok:
		was := old.Item
		old.Item = item
		in.glass[key] = old
		in.report.Changed++
		in.change(func() error { return in.tx.Save(&old) }, "changed: %s, now %d (was %d)", item, item.Count, was.Count)
	default:
		row := store.Glass{ID: newID(), Item: item, CreatedAt: in.now()}
		in.glass[key] = row
		in.report.Glass++
		in.change(func() error { return in.tx.Create(&row) }, "new: %d × %s", item.Count, item)
	}
}

func (in *importer) takeSubstance(place string, s substance.Substance) {
	s.Name = strings.TrimSpace(s.Name)
	if err := s.Check(); in.blame(place, err) != nil || err != nil {
		return
	}
	old, ok := in.byKey[s.Key]
	if s.Key == "" || !ok {
		old, ok = in.byName[strings.ToLower(s.Name)]
	}
	if ok && s.Key == "" {
		s.Key = old.Key
	}
	switch {
	case ok && !old.Own || ok && reflect.DeepEqual(old.Substance, s): // the library stays as it is
		in.report.Known++
	case ok && old.Key != s.Key:
		in.problems.Add(place+"/name", "%s is there already, under the key %s", old.Name, old.Key)
	case ok:
		in.know(OwnedSubstance{s, true})
		in.report.Changed++
		in.change(func() error { return in.tx.ChangeSubstance(s) }, "changed: %s (%s)", s.Name, s.Formula)
	default:
		if s.Key == "" {
			s.Key = "own-" + newID()
		}
		in.know(OwnedSubstance{s, true})
		in.report.Substances++
		row := store.Substance{Key: s.Key, Substance: s, CreatedBy: in.by.ID, CreatedAt: in.now()}
		in.change(func() error { return in.tx.Create(&row) }, "new: %s (%s)", s.Name, s.Formula)
	}
}

// takePlanRecord takes in a plan as the records have it.
func (in *importer) takePlanRecord(place string, by Actor, p PlanRecord) {
	k, plan, err := in.read(p.Work)
	if in.blame(place, err) != nil || err != nil {
		return
	}
	in.takePlan(place, by, p.ID, k, plan, p.Sources, p.At)
}

// takePlan takes in a plan.
func (in *importer) takePlan(place string, by Actor, id string, k kind, plan run.Plan, sources []SourceRecord, at time.Time) {
	if !in.isID(place+"/id", id) {
		return
	}
	if _, err := in.tx.PlanByID(id); err == nil {
		in.report.Known++
		return
	}
	if _, err := plan.Design(); in.blame(place, err) != nil || err != nil {
		return
	}
	in.report.Plans++
	in.change(
		func() error { _, err := in.keepRecord(by, id, k, plan, sources, at); return err },
		"new: plan of %s",
		run.LowerFirst(plan.Title()),
	)
}

// read reads the plan of a record.
func (in *importer) read(w Work) (kind, run.Plan, error) {
	k, err := kindNamed(w.Kind)
	if err != nil {
		return k, nil, err
	}
	plan, err := k.decode(w.Request)
	if err != nil {
		return k, nil, verdict.Problems{{Field: "/request", Reason: "this is not a request of the kind “" + w.Kind + "”: " + err.Error()}}
	}
	return k, plan, nil
}

// keepRecord keeps a plan of a record, bound to the bottles that it takes from here: of
// another lab's, its figures stay.
func (in *importer) keepRecord(by Actor, id string, k kind, plan run.Plan, sources []SourceRecord, at time.Time) (store.Plan, error) {
	if known, err := in.tx.PlanByID(id); err == nil {
		return known, nil
	}
	plan = unbound(plan) // what is not named below is not here
	for _, s := range sources {
		sourced, ok := plan.(run.Sourced)
		bottle, err := in.tx.BottleOfRun(s.Run, s.Part)
		switch {
		case err == nil && ok:
			plan = sourced.Bound(s.Role, run.Source{Bottle: bottle.ID}, bottle.Number)
		case err != nil && !isNotFound(err):
			return store.Plan{}, err
		}
	}
	return keepPlan(in.tx, by, id, k.name, plan, at)
}

// person finds who is meant by initials.
func (in *importer) person(place, initials string) (Actor, bool) {
	by, ok := in.people[initials]
	if !ok {
		in.problems.Add(place+"/by", "nobody here has the initials “%s”: make the account first", initials)
	}
	return by, ok
}

func (in *importer) isID(place, id string) bool {
	if _, err := uuid.Parse(id); err != nil {
		in.problems.Add(place, "an ID is a UUID, like 01970000-0000-7000-8000-000000000001")
		return false
	}
	return true
}

// blame files a problem under a place and returns only errors that are not the
// fault of the records.
func (in *importer) blame(place string, err error) error {
	var p verdict.Problems
	var conflict Conflict
	switch {
	case err == nil:
	case errors.As(err, &p):
		for _, problem := range p {
			in.problems.Add(place+problem.Field, "%s", problem.Reason)
		}
	case errors.As(err, &conflict):
		in.problems.Add(place, "%s", conflict.Reason)
	default:
		return err
	}
	return nil
}

func (in *importer) takeRun(place string, r RunRecord) error {
	if !in.isID(place+"/id", r.ID) || !in.isID(place+"/planId", r.PlanID) {
		return nil
	}
	by, ok := in.person(place, r.By)
	if !ok {
		return nil
	}
	view, err := runView(in.tx, r.ID, true)
	if err == nil {
		in.report.Known++
	} else {
		k, read, err := in.read(r.Work)
		if err != nil {
			return in.blame(place, err)
		}
		plan, err := in.keepRecord(by, r.PlanID, k, read, r.Sources, r.Begun)
		if err != nil {
			return in.blame(place+"/request", err)
		}
		if err := in.beginRun(in.tx, by, r.ID, plan, r.Batch, r.Begun); err != nil {
			return in.blame(place, err)
		}
		if view, err = runView(in.tx, r.ID, true); err != nil {
			return err
		}
		in.report.Runs++
	}
	for i, f := range r.Facts {
		at := fmt.Sprintf("%s/facts/%d", place, i)
		by, ok := in.person(at, f.By)
		if !ok || !in.isID(at+"/id", f.ID) {
			return nil
		}
		f.At = f.At.UTC().Truncate(time.Microsecond)
		known, err := in.alreadyStated(in.tx, r.ID, f)
		if known && err == nil {
			in.report.Known++
			continue
		}
		if err == nil {
			_, err = in.record(in.tx, by, &view, f)
		}
		if err != nil { // the rest of the run hangs on this fact
			return in.blame(at, err)
		}
		in.report.Facts++
	}
	return nil
}
