package lab

import (
	"context"
	"reflect"
	"slices"
	"strings"
	"time"

	"vialbench/core/equilibrium"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// OwnedSystem is an acid–base system with whether the lab added it itself.
type OwnedSystem struct {
	equilibrium.System
	Own bool
}

// Systems lists the acid–base systems of the library and of the lab, by what they are called
// at the bench.
func (l *Lab) Systems(ctx context.Context) ([]OwnedSystem, error) {
	own, err := ownSystems(l.store.With(ctx))
	if err != nil {
		return nil, err
	}
	var list []OwnedSystem
	for _, s := range equilibrium.Systems() {
		list = append(list, OwnedSystem{s, false})
	}
	for _, s := range own {
		list = append(list, OwnedSystem{s, true})
	}
	slices.SortStableFunc(list, func(a, b OwnedSystem) int {
		return strings.Compare(strings.ToLower(a.Common()), strings.ToLower(b.Common()))
	})
	return list, nil
}

// ownSystems are those that the lab added.
func ownSystems(db *store.Store) ([]equilibrium.System, error) {
	rows, err := db.Systems()
	list := make([]equilibrium.System, len(rows))
	for i, row := range rows {
		list[i] = row.System
	}
	return list, err
}

// AddSystem adds a system of the lab's own; its key is made here.
func (l *Lab) AddSystem(ctx context.Context, by Actor, s equilibrium.System) (OwnedSystem, error) {
	s.Key = newID()
	return l.keepSystem(ctx, by, s, func(tx *store.Store, s equilibrium.System) error {
		return tx.Create(&store.System{ID: s.Key, System: s, CreatedBy: by.ID, CreatedAt: l.now()})
	})
}

// ChangeSystem replaces a system of the lab's own, by its key. Plans that were made keep the
// constants that they were made with.
func (l *Lab) ChangeSystem(ctx context.Context, by Actor, s equilibrium.System) (OwnedSystem, error) {
	return l.keepSystem(ctx, by, s, func(tx *store.Store, s equilibrium.System) error {
		own, err := ownSystems(tx)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(own, func(x equilibrium.System) bool { return x.Key == s.Key }) {
			return NotFound{"this system of the lab’s own"}
		}
		return tx.ChangeSystem(s)
	})
}

func (l *Lab) keepSystem(
	ctx context.Context, by Actor, s equilibrium.System, keep func(*store.Store, equilibrium.System) error,
) (OwnedSystem, error) {
	if err := by.mayRule("adding acid–base systems"); err != nil {
		return OwnedSystem{}, err
	}
	s, err := tidy(s)
	if err != nil {
		return OwnedSystem{}, err
	}
	err = l.change(ctx, by, func(tx *store.Store) error {
		own, err := ownSystems(tx)
		if err != nil {
			return err
		}
		if other, ok := sameName(s, own); ok {
			return verdict.Problems{{Field: "/name", Reason: run.UpperFirst(other.Name) + " is there already: give yours another name"}}
		}
		if err := keep(tx, s); err != nil {
			if store.IsDuplicate(err) {
				err = verdict.Problems{{Field: "/name", Reason: s.Name + " is there already"}}
			}
			return err
		}
		return tx.Announce("setup")
	})
	return OwnedSystem{s, true}, err
}

// tidy checks a system of the lab's own, and takes away what a lab has no say in.
func tidy(s equilibrium.System) (equilibrium.System, error) {
	s.Name, s.Base, s.Acid, s.Source = strings.TrimSpace(s.Name), strings.TrimSpace(
		s.Base,
	), strings.TrimSpace(s.Acid), strings.TrimSpace(s.Source)
	s.Species, s.Amino, s.Taught, s.Unfit = nil, false, true, ""
	if s.Source == "" {
		return s, verdict.Problems{{Field: "/source", Reason: "say where its constants come from"}}
	}
	return s, s.Check()
}

// sameName finds another system of a name, in the library or among the lab's own.
func sameName(s equilibrium.System, own []equilibrium.System) (other equilibrium.System, ok bool) {
	all := append(equilibrium.Systems(), own...)
	i := slices.IndexFunc(all, func(x equilibrium.System) bool { return x.Key != s.Key && strings.EqualFold(x.Name, s.Name) })
	if i < 0 {
		return other, false
	}
	return all[i], true
}

// SystemRecord is an acid–base system of the lab's own.
type SystemRecord struct {
	equilibrium.System
	By string     `json:"by,omitempty"`
	At *time.Time `json:"at,omitempty"`
}

func exportSystems(db *store.Store, out *Records, initials map[string]string) error {
	rows, err := db.Systems()
	for _, row := range rows {
		at := row.CreatedAt.UTC()
		out.Systems = append(out.Systems, SystemRecord{row.System, initials[row.CreatedBy], &at})
	}
	return err
}

func (in *importer) takeSystem(place string, r SystemRecord) {
	s, err := tidy(r.System)
	if in.blame(place, err) != nil || err != nil || !in.isID(place+"/key", s.Key) {
		return
	}
	known := slices.IndexFunc(in.systems, func(x equilibrium.System) bool { return x.Key == s.Key })
	other, taken := sameName(s, in.systems)
	switch {
	case taken:
		in.problems.Add(place+"/name", "%s is there already", other.Name)
	case known >= 0 && reflect.DeepEqual(in.systems[known], s):
		in.report.Known++
	case known >= 0:
		in.systems[known] = s
		in.report.Changed++
		in.change(func() error { return in.tx.ChangeSystem(s) }, "changed: constants of %s", s.Name)
	default:
		in.systems = append(in.systems, s)
		in.report.Systems++
		row := store.System{ID: s.Key, System: s, CreatedBy: in.by.ID, CreatedAt: in.now()}
		if by, ok := in.people[r.By]; ok && r.At != nil {
			row.CreatedBy, row.CreatedAt = by.ID, *r.At
		}
		in.change(func() error { return in.tx.Create(&row) }, "new: constants of %s", s.Name)
	}
}
