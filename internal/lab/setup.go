package lab

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"vialbench/core/calibration"
	"vialbench/core/glassware"
	"vialbench/core/readings"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/store"
)

// BenchView is what is on the bench, with the balance and the meter as they stand.
type BenchView struct {
	store.Bench
	Balance *BalanceView
	Meter   *MeterView
}

// benchTopics are what the bench depends on. How a meter stands changes with its calibrations and
// with the check buffers that are read.
var benchTopics = []string{"bench", "setup", calibration.Kind, readings.Kind}

// Bench returns what is on the bench.
func (l *Lab) Bench(ctx context.Context) (BenchView, error) {
	return l.bench.get(ctx, l, benchTopics, func(ctx context.Context) (view BenchView, err error) {
		if view.Bench, err = l.store.With(ctx).Bench(); err != nil {
			return view, err
		}
		if id := view.BalanceID; id != nil {
			balances, err := l.Balances(ctx)
			if err != nil {
				return view, err
			}
			if i := slices.IndexFunc(balances, func(b BalanceView) bool { return b.ID == *id }); i >= 0 {
				view.Balance = &balances[i]
			}
		}
		if m := view.Bench.Meter; m != nil {
			meter, err := l.meterView(l.store.With(ctx), *m)
			if err != nil {
				return view, err
			}
			view.Meter = &meter
		}
		return view, nil
	})
}

// BenchChange is the whole bench as it is to be, and the version it was seen at.
type BenchChange struct {
	Session          string
	WaterTemperature float64
	BalanceID        *string
	MeterID          *string
	Version          int
}

// ChangeBench changes what is on the bench.
func (l *Lab) ChangeBench(ctx context.Context, by Actor, c BenchChange) (BenchView, error) {
	var p verdict.Problems
	if !(c.WaterTemperature >= glassware.MinTemperature && c.WaterTemperature <= glassware.MaxTemperature) {
		p.Add("/waterTemperature", "the water is between 0 and 40 °C")
	}
	if len(p) > 0 {
		return BenchView{}, p
	}
	err := l.change(ctx, by, func(tx *store.Store) error {
		if c.BalanceID != nil {
			if _, err := tx.BalanceByID(*c.BalanceID); err != nil {
				return found(err, "this balance")
			}
		}
		if c.MeterID != nil {
			if _, err := tx.MeterByID(*c.MeterID); err != nil {
				return found(err, "this meter")
			}
		}
		row := store.Bench{
			ID:               1,
			Session:          strings.TrimSpace(c.Session),
			WaterTemperature: c.WaterTemperature,
			BalanceID:        c.BalanceID,
			MeterID:          c.MeterID,
			Version:          c.Version + 1,
		}
		won, err := tx.Advance(&row, c.Version, "session", "water_temperature", "balance_id", "meter_id")
		if err != nil {
			return err
		}
		if !won {
			bench, err := tx.Bench()
			if err != nil {
				return err
			}
			return Conflict{
				fmt.Sprintf(
					"the bench was changed meanwhile: water %g °C, session “%s”. Look, then change it again",
					bench.WaterTemperature,
					bench.Session,
				),
			}
		}
		return tx.Announce("bench")
	})
	if err != nil {
		return BenchView{}, err
	}
	return l.Bench(ctx)
}

// Settings returns the rules of the lab.
func (l *Lab) Settings(ctx context.Context) (store.Settings, error) {
	return l.store.With(ctx).Settings()
}

// shownBy returns the rules by which runs are shown: read once, and again when they changed.
func (l *Lab) shownBy(ctx context.Context) (store.Settings, error) {
	return l.settings.get(ctx, l, []string{"setup"}, l.Settings)
}

// ChangeSettings changes the rules of the lab. s.Version is the version it was
// seen at.
func (l *Lab) ChangeSettings(ctx context.Context, by Actor, s store.Settings) (store.Settings, error) {
	if err := by.mayRule("changing the rules"); err != nil {
		return s, err
	}
	p := checkThresholds(s.Thresholds)
	if strings.TrimSpace(s.LabName) == "" {
		p.Add("/labName", "the lab needs a name for its labels")
	}
	if len(p) > 0 {
		return s, p
	}
	err := l.advanceSettings(ctx, by, &s)
	return s, err
}

// checkThresholds checks the thresholds of a lab against the bounds of the rules.
func checkThresholds(t verdict.Thresholds) (p verdict.Problems) {
	for _, id := range slices.Sorted(maps.Keys(t)) {
		value := t[id]
		i := slices.IndexFunc(Rules(), func(r verdict.Rule) bool { return r.ID == id && r.Unit != "" })
		if i < 0 {
			p.Add("/thresholds/"+id, "no rule %s with a threshold", id)
		} else if r := Rules()[i]; !(value >= r.Min && value <= r.Max) || len(r.Words) > 0 && value != math.Trunc(value) {
			p.Add("/thresholds/"+id, "%s: between %g and %g %s", r.Title, r.Min, r.Max, r.Unit)
		}
	}
	return p
}

func (l *Lab) advanceSettings(ctx context.Context, by Actor, s *store.Settings) error {
	return l.change(ctx, by, func(tx *store.Store) error {
		row := *s
		row.ID, row.LabName, row.Version = 1, strings.TrimSpace(s.LabName), s.Version+1
		won, err := tx.Advance(&row, s.Version, "lab_name", "flask_class", "buoyancy", "thresholds")
		if err != nil {
			return err
		}
		if *s, err = tx.Settings(); err != nil {
			return err
		}
		if !won {
			return Conflict{"the rules were changed meanwhile: look at them, then change them again"}
		}
		return tx.Announce("setup")
	})
}

// OwnedSubstance is a substance with whether the lab added it itself.
type OwnedSubstance struct {
	substance.Substance
	Own bool
}

// Substances lists the library and the lab's own substances, by name.
func (l *Lab) Substances(ctx context.Context) ([]OwnedSubstance, error) {
	return substances(l.store.With(ctx))
}

func substances(db *store.Store) ([]OwnedSubstance, error) {
	own, err := db.Substances()
	if err != nil {
		return nil, err
	}
	var list []OwnedSubstance
	for _, s := range substance.Library() {
		list = append(list, OwnedSubstance{s, false})
	}
	for _, s := range own {
		list = append(list, OwnedSubstance{s.Substance, true})
	}
	slices.SortStableFunc(list, func(a, b OwnedSubstance) int {
		return strings.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name))
	})
	return list, nil
}

func substanceByKey(db *store.Store, key string) (substance.Substance, error) {
	list, err := substances(db)
	if err != nil {
		return substance.Substance{}, err
	}
	i := slices.IndexFunc(list, func(s OwnedSubstance) bool { return s.Key == key })
	if i < 0 {
		return substance.Substance{}, verdict.Problems{
			{Field: "/substance/key", Reason: "this substance is not in the lab: add it in the lab setup first"},
		}
	}
	return list[i].Substance, nil
}

// FoundSubstance is a substance that was looked for, with what stands for it already.
type FoundSubstance struct {
	substance.Match
	// Known says that it is on the shelf, or was made before; empty when neither.
	Known string
}

// How much better a match is that is the lab's own, made before, or on the shelf.
const (
	isOwn = iota + 1
	wasMade
	isShelved
)

// FindSubstances looks for substances by what people call them; those on the shelf, made
// before or of the lab's own come first.
func (l *Lab) FindSubstances(ctx context.Context, query string) ([]FoundSubstance, error) {
	db := l.store.With(ctx)
	list, err := substances(db)
	if err != nil {
		return nil, err
	}
	all := make([]substance.Substance, len(list))
	rank := map[string]int{}
	for i, s := range list {
		if all[i] = s.Substance; s.Own {
			rank[s.Key] = isOwn
		}
	}
	bottles, err := db.Bottles(store.ShelfFilter{}, fromStart, atATime)
	if err != nil {
		return nil, err
	}
	for _, b := range bottles {
		for _, in := range b.Product.Ingredients {
			if rank[in.Key] = max(rank[in.Key], wasMade); b.State == onShelf {
				rank[in.Key] = isShelved
			}
		}
	}
	found := []FoundSubstance{}
	for _, m := range substance.Find(all, query, func(key string) int { return rank[key] }) {
		known := map[int]string{wasMade: "made before", isShelved: "on the shelf"}[rank[m.Key]]
		found = append(found, FoundSubstance{m, known})
	}
	return found, nil
}

// usual is what a teaching laboratory usually owns (common practice): balances, and glass
// for two dozen students. It is a beginning, to be changed.
func usual() Records {
	r := Records{Format: RecordsFormat, Balances: []BalanceRecord{
		{Balance: weighing.Balance{Name: "Analytical", Capacity: 220, Resolution: 0.0001, Repeatability: 0.0001, Linearity: 0.0002}},
		{Balance: weighing.Balance{Name: "Top pan", Capacity: 3200, Resolution: 0.01, Repeatability: 0.01, Linearity: 0.02}},
	}}
	add := func(kind glassware.Kind, count int, volumes ...float64) {
		for _, v := range volumes {
			r.Glass = append(r.Glass, GlassRecord{Item: glassware.Item{Kind: kind, Volume: v, Class: glassware.ClassA, Count: count}})
		}
	}
	add(glassware.VolumetricFlask, 6, 25, 50, 100, 250, 500, 1000)
	add(glassware.OneMarkPipette, 6, 1, 2, 5, 10, 20, 25, 50)
	add(glassware.GraduatedPipette, 6, 1, 5, 10)
	add(glassware.Burette, 12, 25, 50)
	add(glassware.Cylinder, 6, 10, 25, 100, 250, 500, 1000)
	return r
}

// SetUpUsual enters what a teaching laboratory usually owns, beside what is there.
func (l *Lab) SetUpUsual(ctx context.Context, by Actor) (ImportReport, error) {
	if err := by.mayRule("setting up the lab"); err != nil {
		return ImportReport{}, err
	}
	return l.importWith(ctx, by, false, func(in *importer) error { return in.take(usual()) })
}

// AddSubstance adds a substance of the lab's own. An empty key is made from the name.
func (l *Lab) AddSubstance(ctx context.Context, by Actor, s substance.Substance) (OwnedSubstance, error) {
	if err := by.mayRule("adding substances"); err != nil {
		return OwnedSubstance{}, err
	}
	var owned OwnedSubstance
	err := l.change(ctx, by, func(tx *store.Store) (err error) {
		owned, err = l.addSubstance(tx, by, s)
		return err
	})
	return owned, err
}

func (l *Lab) addSubstance(tx *store.Store, by Actor, s substance.Substance) (OwnedSubstance, error) {
	s.Name = strings.TrimSpace(s.Name)
	if err := s.Check(); err != nil {
		return OwnedSubstance{}, err
	}
	list, err := substances(tx)
	if err != nil {
		return OwnedSubstance{}, err
	}
	for _, other := range list {
		if strings.EqualFold(other.Name, s.Name) {
			return OwnedSubstance{}, verdict.Problems{{Field: "/name", Reason: other.Name + " is there already"}}
		}
	}
	if s.Key == "" {
		s.Key = "own-" + newID()
	}
	row := store.Substance{Key: s.Key, Substance: s, CreatedBy: by.ID, CreatedAt: l.now()}
	if err := tx.Create(&row); err != nil {
		if store.IsDuplicate(err) {
			err = verdict.Problems{{Field: "/name", Reason: s.Name + " is there already"}}
		}
		return OwnedSubstance{}, err
	}
	return OwnedSubstance{s, true}, tx.Announce("setup")
}

// lacks names what a lab has still to set up, in the order to do it.
func lacks(db *store.Store, begun bool) ([]string, error) {
	there, err := db.SetUp()
	list := []string{}
	for _, x := range []struct {
		what  string
		there bool
	}{{"balance", there.Balance}, {"glass", there.Glass}, {"people", there.People}, {"bottle", begun}} {
		if !x.there {
			list = append(list, x.what)
		}
	}
	return list, err
}
