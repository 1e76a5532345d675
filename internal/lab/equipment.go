package lab

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/store"
)

// BalanceView is a balance with its newest check, if any.
type BalanceView struct {
	store.Balance
	LastCheck *store.BalanceCheck
}

// Balances lists the balances of the lab with their last checks.
func (l *Lab) Balances(ctx context.Context) ([]BalanceView, error) {
	db := l.store.With(ctx)
	balances, err := db.Balances()
	if err != nil {
		return nil, err
	}
	checks, err := db.BalanceChecks("", maxChecks)
	if err != nil {
		return nil, err
	}
	views := make([]BalanceView, len(balances))
	for i, b := range balances {
		views[i].Balance = b
		if k := slices.IndexFunc(checks, func(c store.BalanceCheck) bool { return c.BalanceID == b.ID }); k >= 0 {
			views[i].LastCheck = &checks[k]
		}
	}
	return views, nil
}

// maxChecks is how far back the checks of balances are read.
const maxChecks = 2000

func eachBalance(list []store.Balance) []weighing.Balance {
	out := make([]weighing.Balance, len(list))
	for i, b := range list {
		out[i] = b.Balance
	}
	return out
}

func eachItem(list []store.Glass) []glassware.Item {
	out := make([]glassware.Item, len(list))
	for i, g := range list {
		out[i] = g.Item
	}
	return out
}

// AddBalance adds a balance. The first one goes onto the bench.
func (l *Lab) AddBalance(ctx context.Context, by Actor, b weighing.Balance) (BalanceView, error) {
	if err := by.mayRule("adding balances"); err != nil {
		return BalanceView{}, err
	}
	var balance store.Balance
	err := l.change(ctx, by, func(tx *store.Store) (err error) {
		balance = store.Balance{ID: newID(), Balance: b, CreatedAt: l.now()}
		return l.addBalance(tx, &balance)
	})
	return BalanceView{Balance: balance}, err
}

func (l *Lab) addBalance(tx *store.Store, balance *store.Balance) error {
	balance.Name = strings.TrimSpace(balance.Name)
	if err := balance.Check(); err != nil {
		return verdict.Problems{{Field: "", Reason: err.Error()}}
	}
	if err := tx.Create(balance); err != nil {
		if store.IsDuplicate(err) {
			return verdict.Problems{{Field: "/name", Reason: "there is a balance of that name: give it another"}}
		}
		return err
	}
	err := ontoBench(tx, "balance_id", func(b *store.Bench) **string { return &b.BalanceID }, &balance.ID)
	return errors.Join(err, tx.Announce("setup"))
}

// ontoBench puts an instrument onto the bench when no other of its kind is there.
func ontoBench(tx *store.Store, column string, place func(*store.Bench) **string, id *string) error {
	bench, err := tx.Bench()
	if err != nil || *place(&bench) != nil {
		return err
	}
	row := store.Bench{ID: 1, Version: bench.Version + 1}
	*place(&row) = id
	_, err = tx.Advance(&row, bench.Version, column)
	return errors.Join(err, tx.Announce("bench"))
}

// ConnectBalance sets where a balance speaks its line protocol, host:port; empty
// when it does not.
func (l *Lab) ConnectBalance(ctx context.Context, by Actor, id, address string) error {
	if err := by.mayRule("connecting balances"); err != nil {
		return err
	}
	address, err := l.addressOf(address)
	if err != nil {
		return err
	}
	return l.change(ctx, by, func(tx *store.Store) error {
		balance, err := tx.BalanceByID(id)
		if err != nil {
			return found(err, "this balance")
		}
		balance.Address = address
		if err := tx.Save(&balance); err != nil {
			return err
		}
		return errors.Join(tx.Announce("setup"), tx.Announce("bench"))
	})
}

// addressOf is where an instrument is to be connected, host:port, if one may stand there; empty of none.
func (l *Lab) addressOf(typed string) (string, error) {
	address := strings.TrimSpace(typed)
	if address == "" {
		return "", nil
	}
	if err := l.Reach.Check(address); err != nil {
		return "", verdict.Problems{{Field: "/address", Reason: err.Error()}}
	}
	return address, nil
}

// CheckBalance records the reading of a check weight on a balance, all in g: the
// mass of the weight and the limits ± of its certificate or class (rectangular). An
// id that is known already changes nothing.
func (l *Lab) CheckBalance(
	ctx context.Context,
	by Actor,
	balanceID, id string,
	weight, limits, reading float64,
) (store.BalanceCheck, error) {
	var check store.BalanceCheck
	err := l.change(ctx, by, func(tx *store.Store) error {
		balance, err := tx.BalanceByID(balanceID)
		if err != nil {
			return found(err, "this balance")
		}
		settings, err := tx.Settings()
		if err != nil {
			return err
		}
		var p verdict.Problems
		if !(weight > 0 && weight <= balance.Capacity) {
			p.Add("/weight", "the check weight is above zero and not more than %s carries, %g g", balance.Name, balance.Capacity)
		}
		if !(limits >= 0 && limits < weight) {
			p.Add("/weightLimits", "the limits of the weight are zero or more, and much less than its mass")
		}
		if !(reading >= 0 && reading <= 1.1*balance.Capacity) {
			p.Add("/reading", "the reading is what the tared balance shows with the weight on it, in g")
		}
		if len(p) > 0 {
			return p
		}
		v, passed := balance.Checked(weight, uncertain.Rectangular(limits), reading, settings.Thresholds)
		check = store.BalanceCheck{
			ID:           id,
			BalanceID:    balanceID,
			Weight:       weight,
			WeightLimits: limits,
			Reading:      reading,
			Passed:       passed,
			Sentence:     v.Sentence,
			MadeBy:       by.ID,
			Maker:        by.Account,
			MadeAt:       l.now(),
		}
		if known, err := tx.BalanceCheckByID(id); err == nil {
			if known.BalanceID != balanceID || known.Weight != weight || known.WeightLimits != limits || known.Reading != reading {
				return Conflict{"another check is on record under the same ID: send this one again as a new one"}
			}
			check = known
			return nil
		}
		if err := tx.Create(&check); err != nil {
			return err
		}
		return errors.Join(tx.Announce("setup"), tx.Announce("shelf"), tx.Announce("bench"))
	})
	return check, err
}

// BalanceChecks lists the checks of a balance, newest first.
func (l *Lab) BalanceChecks(ctx context.Context, balanceID string) ([]store.BalanceCheck, error) {
	db := l.store.With(ctx)
	if _, err := db.BalanceByID(balanceID); err != nil {
		return nil, found(err, "this balance")
	}
	return db.BalanceChecks(balanceID, pageSize)
}

// Dependent is a run that was carried out with an instrument, or depends on one that was, with the bottles
// that it made.
type Dependent struct {
	store.Run
	Bottles []BottleView
}

// Dependents lists what depends on a balance or a pH meter, newest first: a thousand runs at most.
func (l *Lab) Dependents(ctx context.Context, instrument string) ([]Dependent, error) {
	db := l.store.With(ctx)
	runs, err := db.RunsOn(instrument, atATime)
	if err != nil || len(runs) == 0 {
		return nil, err
	}
	list, at, ids := make([]Dependent, len(runs)), map[string]int{}, make([]string, len(runs))
	for i, r := range runs {
		list[i].Run, at[r.ID], ids[i] = r, i, r.ID
	}
	bottles, err := db.BottlesOfRuns(ids)
	if err != nil {
		return nil, err
	}
	views, err := l.withDoubts(db, bottles)
	if err != nil {
		return nil, err
	}
	for _, b := range views {
		d := &list[at[*b.RunID]]
		d.Bottles = append(d.Bottles, b)
	}
	return list, nil
}

// doubt is a stretch of time in which a balance cannot be trusted: from its last
// good check to the next one, with a failed check in between.
type doubt struct {
	balance  string
	from, to time.Time // exclusive; a zero from is the beginning, a zero to is now
	failed   time.Time
}

type doubts []doubt

// doubts finds the stretches of doubt from the checks.
func (l *Lab) doubts(db *store.Store) (doubts, error) {
	return l.checks.get(db.Context(), l, []string{"setup"}, func(ctx context.Context) (doubts, error) {
		checks, err := l.store.With(ctx).BalanceChecks("", maxChecks)
		return doubtsOf(checks), err
	})
}

// doubtsOf follows the checks of balances, the newest first.
func doubtsOf(checks []store.BalanceCheck) doubts {
	slices.Reverse(checks) // oldest first
	lastGood := map[string]time.Time{}
	open := map[string]int{} // the doubt that is going on
	var list doubts
	for _, c := range checks {
		name := c.Balance.Name
		i, doubted := open[name]
		switch {
		case c.Passed:
			if doubted {
				list[i].to = c.MadeAt
				delete(open, name)
			}
			lastGood[name] = c.MadeAt
		case !doubted:
			open[name] = len(list)
			list = append(list, doubt{balance: name, from: lastGood[name], failed: c.MadeAt})
		}
	}
	return list
}

// of says why readings are in doubt; empty when they are not.
func (d doubts) of(readings []run.Reading) string {
	for _, x := range d {
		doubted := func(r run.Reading) bool {
			return r.Instrument == x.balance && r.At.After(x.from) && (x.to.IsZero() || r.At.Before(x.to))
		}
		if slices.ContainsFunc(readings, doubted) {
			since := "no good check came before it"
			if !x.from.IsZero() {
				since = "the last good check was on " + x.from.Format(time.DateOnly)
			}
			return fmt.Sprintf(
				"%s failed its check on %s; %s. Check the balance, then weigh again or standardise.",
				x.balance,
				x.failed.Format(time.DateOnly),
				since,
			)
		}
	}
	return ""
}

// Glass lists the volumetric glass of the lab.
func (l *Lab) Glass(ctx context.Context) ([]store.Glass, error) { return l.store.With(ctx).Glass() }

// AddGlass adds glass, or adds to the number of what is there already.
func (l *Lab) AddGlass(ctx context.Context, by Actor, item glassware.Item) (store.Glass, error) {
	if err := by.mayRule("adding glass"); err != nil {
		return store.Glass{}, err
	}
	var glass store.Glass
	err := l.change(ctx, by, func(tx *store.Store) error {
		known, err := tx.Glass()
		if err != nil {
			return err
		}
		if glass, err = l.addGlass(tx, known, item); err != nil {
			return err
		}
		return tx.Announce("setup")
	})
	return glass, err
}

// addGlass adds an item to the glass that is known.
func (l *Lab) addGlass(tx *store.Store, known []store.Glass, item glassware.Item) (store.Glass, error) {
	item.Mark = strings.TrimSpace(item.Mark)
	if err := item.Check(); err != nil {
		return store.Glass{}, err
	}
	if i := slices.IndexFunc(known, func(g store.Glass) bool { return alike(g.Item, item) }); i >= 0 {
		if item.Mark != "" {
			return store.Glass{}, verdict.Problems{
				{Field: "/mark", Reason: "there is such a glass with this mark: change that one, or give this one another"},
			}
		}
		known[i].Count = min(1000, known[i].Count+item.Count)
		return known[i], tx.Save(&known[i])
	}
	glass := store.Glass{ID: newID(), Item: item, CreatedAt: l.now()}
	err := tx.Create(&glass)
	if store.IsDuplicate(err) {
		err = Conflict{"the same glass was added at the same moment: look at the list, then add what is missing"}
	}
	return glass, err
}

// alike reports whether two entries are of the same glass, whatever their number.
func alike(a, b glassware.Item) bool {
	return a.Kind == b.Kind && a.Volume == b.Volume && a.Class == b.Class && a.Mark == b.Mark
}

// RemoveGlass takes glass off the list. Plans made with it stay as they are.
func (l *Lab) RemoveGlass(ctx context.Context, by Actor, id string) error {
	if err := by.mayRule("removing glass"); err != nil {
		return err
	}
	return l.change(ctx, by, func(tx *store.Store) error {
		if _, err := tx.GlassByID(id); err != nil {
			return found(err, "this glass")
		}
		if err := tx.DeleteGlass(id); err != nil {
			return err
		}
		return tx.Announce("setup")
	})
}
