package lab

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"vialbench/core/equilibrium"
	"vialbench/core/verdict"
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

	balances    map[string]store.Balance    // by name, lower case
	meters      map[string]store.Meter      // likewise
	photometers map[string]store.Photometer // likewise
	glass       map[string]store.Glass      // by what is alike
	byKey       map[string]OwnedSubstance   // substances
	byName      map[string]OwnedSubstance
	systems     []equilibrium.System // of the lab's own
	own         *owned

	// restoring is into an empty database; fresh is a lab without plans, in which numbers
	// and places are kept as they were given.
	restoring, fresh bool
	freshStore       bool // likewise of the store
	// strict refuses members that a plan does not have; former formats had others.
	strict              bool
	balanceIDs          map[string]string // here, by those in the file
	meterIDs            map[string]string
	given               *given
	newRuns, oldBottles []string
}

// ImportReport counts what was taken in, what was changed, and what was there
// already.
type ImportReport struct {
	Balances, Meters, Photometers, Glass, Substances, Systems, Plans, Runs, Facts, Changed, Known int
	// Changes says in words what is new or changed in the setup, and what is otherwise
	// than in the file, up to maxChanges.
	Changes []string
}

// maxChanges is how many changes a report spells out.
const maxChanges = 100

// errDryRun rolls a trial import back.
var errDryRun = errors.New("dry run")

// importWith takes in what take finds, all or none.
func (l *Lab) importWith(ctx context.Context, by Actor, dryRun bool, take func(*importer) error) (ImportReport, error) {
	var report ImportReport
	err := l.change(ctx, by, func(tx *store.Store) error {
		in, err := l.newImporter(tx, by)
		if err != nil {
			return err
		}
		if err := take(in); err != nil {
			return err
		}
		if report = in.report; dryRun {
			return errDryRun
		}
		return tx.Announce("setup")
	})
	if errors.Is(err, errDryRun) {
		err = nil
	}
	return report, err
}

func (l *Lab) newImporter(tx *store.Store, by Actor) (*importer, error) {
	in := &importer{
		Lab:         l,
		tx:          tx,
		by:          by,
		people:      map[string]Actor{},
		balances:    map[string]store.Balance{},
		glass:       map[string]store.Glass{},
		byKey:       map[string]OwnedSubstance{},
		byName:      map[string]OwnedSubstance{},
		balanceIDs:  map[string]string{},
		meters:      map[string]store.Meter{},
		photometers: map[string]store.Photometer{},
		meterIDs:    map[string]string{},
	}
	accounts, err := tx.Accounts()
	if err != nil {
		return nil, err
	}
	for _, a := range accounts {
		in.people[a.Initials] = Actor{a}
	}
	if in.systems, err = ownSystems(tx); err != nil {
		return nil, err
	}
	balances, err := tx.Balances()
	if err != nil {
		return nil, err
	}
	for _, b := range balances {
		in.balances[strings.ToLower(b.Name)] = b
		in.balanceIDs[b.ID] = b.ID
	}
	meters, err := tx.Meters()
	if err != nil {
		return nil, err
	}
	for _, m := range meters {
		in.meters[strings.ToLower(m.Name)] = m
		in.meterIDs[m.ID] = m.ID
	}
	photometers, err := tx.Photometers()
	if err != nil {
		return nil, err
	}
	for _, p := range photometers {
		in.photometers[strings.ToLower(p.Name)] = p
	}
	if in.oldBottles, err = tx.Pools(); err != nil {
		return nil, err
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

// TopicImport begins the topic that says how far somebody's import is, in per cent.
const TopicImport = "import "

// carryOut writes what was found, unless something is wrong.
func (in *importer) carryOut() error {
	told := time.Now()
	for i, do := range in.todo {
		if len(in.problems) > 0 {
			return nil
		}
		if time.Since(told) > time.Second { // beside the transaction, which nobody hears of before its end
			told = time.Now()
			if err := in.store.Announce(fmt.Sprintf("%s%s %d", TopicImport, in.by.ID, 100*i/len(in.todo))); err != nil {
				return err
			}
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

// person finds who is meant by initials.
func (in *importer) person(place, initials string) (Actor, bool) {
	by, ok := in.people[initials]
	if !ok {
		in.problems.Add(place+"/by", "nobody here has the initials “%s”: make the account first", initials)
	}
	return by, ok
}

func (in *importer) isID(place, id string) bool {
	if !isUUID(id) {
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
