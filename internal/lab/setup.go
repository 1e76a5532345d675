package lab

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/dilution"
	"vialbench/core/glassware"
	"vialbench/core/solution"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// Bench returns what is on the bench.
func (l *Lab) Bench(ctx context.Context) (store.Bench, error) { return l.store.With(ctx).Bench() }

// BenchChange is the whole bench as it is to be, and the version it was seen at.
type BenchChange struct {
	Session          string
	WaterTemperature float64
	BalanceID        *string
	Version          int
}

// ChangeBench changes what is on the bench.
func (l *Lab) ChangeBench(ctx context.Context, c BenchChange) (store.Bench, error) {
	var p verdict.Problems
	if !(c.WaterTemperature >= glassware.MinTemperature && c.WaterTemperature <= glassware.MaxTemperature) {
		p.Add("/waterTemperature", "the water is between 0 and 40 °C")
	}
	if len(p) > 0 {
		return store.Bench{}, p
	}
	var bench store.Bench
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		if c.BalanceID != nil {
			if _, err := tx.BalanceByID(*c.BalanceID); err != nil {
				return found(err, "this balance")
			}
		}
		row := store.Bench{ID: 1, Session: strings.TrimSpace(c.Session), WaterTemperature: c.WaterTemperature, BalanceID: c.BalanceID, Version: c.Version + 1}
		won, err := tx.Advance(&row, c.Version, "session", "water_temperature", "balance_id")
		if err != nil {
			return err
		}
		if bench, err = tx.Bench(); err != nil {
			return err
		}
		if !won {
			return Conflict{fmt.Sprintf("the bench was changed meanwhile: water %g °C, session “%s”. Look, then change it again", bench.WaterTemperature, bench.Session)}
		}
		return tx.Announce("bench")
	})
	return bench, err
}

// Settings returns the rules of the lab.
func (l *Lab) Settings(ctx context.Context) (store.Settings, error) {
	return l.store.With(ctx).Settings()
}

// Rules lists the rules whose thresholds a lab can set.
func Rules() []verdict.Rule { return append(solution.Rules(), dilution.Rules()...) }

// ChangeSettings changes the rules of the lab. s.Version is the version it was
// seen at.
func (l *Lab) ChangeSettings(ctx context.Context, by Actor, s store.Settings) (store.Settings, error) {
	if err := by.mayRule("changing the rules"); err != nil {
		return s, err
	}
	var p verdict.Problems
	for id, value := range s.Thresholds {
		i := slices.IndexFunc(Rules(), func(r verdict.Rule) bool { return r.ID == id && r.Unit != "" })
		if i < 0 {
			p.Add("/thresholds/"+id, "no rule %s with a threshold", id)
		} else if r := Rules()[i]; !(value >= r.Min && value <= r.Max) {
			p.Add("/thresholds/"+id, "%s: between %g and %g %s", r.Title, r.Min, r.Max, r.Unit)
		}
	}
	if strings.TrimSpace(s.LabName) == "" {
		p.Add("/labName", "the lab needs a name for its labels")
	}
	if len(p) > 0 {
		return s, p
	}
	var settings store.Settings
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) error {
		row := s
		row.ID, row.LabName, row.Version = 1, strings.TrimSpace(s.LabName), s.Version+1
		won, err := tx.Advance(&row, s.Version, "lab_name", "flask_class", "buoyancy", "thresholds")
		if err != nil {
			return err
		}
		if settings, err = tx.Settings(); err != nil {
			return err
		}
		if !won {
			return Conflict{"the rules were changed meanwhile: look at them, then change them again"}
		}
		return tx.Announce("setup")
	})
	return settings, err
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
		return substance.Substance{}, verdict.Problems{{Field: "/substance/key", Reason: "this substance is not in the lab: add it in the lab setup first"}}
	}
	return list[i].Substance, nil
}

// AddSubstance adds a substance of the lab's own. An empty key is made from the name.
func (l *Lab) AddSubstance(ctx context.Context, by Actor, s substance.Substance) (OwnedSubstance, error) {
	if err := by.mayRule("adding substances"); err != nil {
		return OwnedSubstance{}, err
	}
	var owned OwnedSubstance
	err := l.store.With(ctx).InTransaction(func(tx *store.Store) (err error) {
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
		return OwnedSubstance{}, err
	}
	return OwnedSubstance{s, true}, tx.Announce("setup")
}
