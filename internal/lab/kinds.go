package lab

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"vialbench/core/comparison"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/session"
	"vialbench/core/slip"
	"vialbench/core/stock"
	"vialbench/core/substance"
	"vialbench/core/unknowns"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/work"
	"vialbench/internal/store"
)

// kind is one kind of work: its core package, seen from the lab. A file of its own
// registers each.
type kind struct {
	name string
	// place in the order of the work, for lists.
	place int
	// rules whose thresholds a lab can set.
	rules func() []verdict.Rule
	// ask makes a plan of a question, with what the lab owns put into it. Problems have
	// JSON pointers into the question.
	ask func(question json.RawMessage, own *owned) (run.Plan, error)
	// renew puts what holds now into a plan that was kept, when a run of it begins; nil of a
	// kind whose plans stay as they were made.
	renew func(plan run.Plan, own *owned) (now run.Plan, changed bool, err error)
	// fromRow and toRow read and write a plan as a line of a table; nil of a kind that has
	// none. names of the columns say where a problem is.
	fromRow func(*importer, row) (plan run.Plan, names map[string]string)
	toRow   func(id string, plan run.Plan) []string
	// lines tells how facts come in as a table; nil of a kind that takes none.
	lines *factTable
	// computations touch no record; their names are those of POST /compute/….
	computations map[string]computation
}

var kinds []kind

// register adds a kind; it is called as the program starts.
func register(k kind) {
	kinds = append(kinds, k)
	slices.SortFunc(kinds, func(a, b kind) int { return cmp.Compare(a.place, b.place) })
}

// kindNamed finds a kind.
func kindNamed(name string) (kind, error) {
	i := slices.IndexFunc(kinds, func(k kind) bool { return k.name == name })
	if i < 0 {
		return kind{}, verdict.Problems{{Field: "/kind", Reason: fmt.Sprintf("there is no work of the kind “%s” here", name)}}
	}
	return kinds[i], nil
}

// planOf reads the plan of a row; batch is which run of it is meant.
func planOf(p store.Plan, batch int) (run.Plan, error) {
	plan, err := work.Plan{Kind: p.Kind, Request: json.RawMessage(p.Request), Batch: batch}.Read()
	if err != nil {
		return nil, fmt.Errorf("plan %d cannot be read: %w", p.Number, err)
	}
	return plan, nil
}

// Rules lists the rules of all kinds whose thresholds a lab can set, each once.
func Rules() []verdict.Rule {
	var list []verdict.Rule
	of := func(rules []verdict.Rule) {
		for _, r := range rules {
			if !slices.ContainsFunc(list, func(known verdict.Rule) bool { return known.ID == r.ID }) {
				list = append(list, r)
			}
		}
	}
	for _, k := range kinds {
		of(k.rules())
	}
	of(session.Rules())
	of(stock.Rules())
	of(unknowns.Rules())
	of(comparison.Rules())
	of(slip.Rules())
	of([]verdict.Rule{run.RuleRecorded})
	return list
}

// computation answers a question that touches no record.
type computation func(ctx context.Context, body []byte) (any, error)

// computes makes one of a function that is soon through.
func computes[In, Out any](compute func(In) (Out, error)) computation {
	return searches(func(_ context.Context, in In) (Out, error) { return compute(in) })
}

// searches makes one of a function that ends with its context.
func searches[In, Out any](compute func(context.Context, In) (Out, error)) computation {
	return func(ctx context.Context, body []byte) (any, error) {
		var in In
		if err := quantity.Decode(body, &in); err != nil {
			return nil, err
		}
		return compute(ctx, in)
	}
}

// owned is what the lab puts into a question: what is on the bench, what stands in the
// cupboard, its rules, and what is on the shelf.
type owned struct {
	tx       *store.Store
	bench    store.Bench
	settings store.Settings
	glass    []glassware.Item
	balances []weighing.Balance
}

func ownedBy(tx *store.Store) (*owned, error) {
	own := &owned{tx: tx}
	var err error
	if own.bench, err = tx.Bench(); err != nil {
		return nil, err
	}
	if own.settings, err = tx.Settings(); err != nil {
		return nil, err
	}
	glass, err := tx.Glass()
	if err != nil {
		return nil, err
	}
	balances, err := tx.Balances()
	if err != nil {
		return nil, err
	}
	own.glass, own.balances = eachItem(glass), eachBalance(balances)
	return own, nil
}

// balance is the one on the bench, or a usual one until the lab has entered its own.
func (o *owned) balance() weighing.Balance {
	if o.bench.Balance == nil {
		return weighing.Usual()
	}
	return o.bench.Balance.Balance
}

// substance is the lab's or the library's, whatever the question says of it besides.
func (o *owned) substance(key string) (substance.Substance, error) {
	return substanceByKey(o.tx, key)
}

// bottle is one that stands on the shelf.
func (o *owned) bottle(id string) (store.Bottle, error) {
	if !isUUID(id) {
		return store.Bottle{}, verdict.Problems{{Reason: "a bottle is named by its ID"}}
	}
	b, err := o.tx.BottleByID(id)
	if err != nil {
		return b, found(err, "this bottle")
	}
	if b.State != onShelf {
		return b, Conflict{"this bottle is not on the shelf any more (" + b.Reason + ")"}
	}
	return b, nil
}

// at puts a JSON pointer before the problems of an error.
func at(field string, err error) error {
	problems, ok := err.(verdict.Problems) //nolint:errorlint // made here, never wrapped
	if !ok {
		return err
	}
	moved := make(verdict.Problems, len(problems))
	for i, p := range problems {
		moved[i] = verdict.Problem{Field: field + p.Field, Reason: p.Reason}
	}
	return moved
}
