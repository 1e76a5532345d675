package lab

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"vialbench/core/glassware"
	"vialbench/internal/store"
)

// takePerson finds who is meant by the initials in the file, or makes an account that
// nobody can sign in with until an instructor has given it a password.
func (in *importer) takePerson(place string, p PersonRecord) error {
	if !in.isID(place+"/id", p.ID) {
		return nil
	}
	accounts, err := in.tx.Accounts()
	if err != nil {
		return err
	}
	taken := func(initials string) bool {
		return slices.ContainsFunc(accounts, func(a store.Account) bool { return strings.EqualFold(a.Initials, initials) })
	}
	for _, a := range accounts {
		if a.ID == p.ID || strings.EqualFold(a.Initials, p.Initials) && a.Name == p.Name {
			if in.report.Known++; a.Name != p.Name || a.Initials != p.Initials {
				in.note("%s (%s) is %s (%s) here", p.Name, p.Initials, a.Name, a.Initials)
			}
			in.people[p.Initials] = Actor{a}
			return nil
		}
	}
	made := store.Account{ID: p.ID, Name: p.Name, Initials: p.Initials, Login: p.Login, Role: p.Role, Active: p.Active, CreatedAt: p.At}
	for n := 2; taken(made.Initials); n++ {
		made.Initials = fmt.Sprint(p.Initials, n)
	}
	for n := 2; slices.ContainsFunc(accounts, func(a store.Account) bool { return a.Login == made.Login }); n++ {
		made.Login = fmt.Sprint(p.Login, n)
	}
	named := NewAccount{Name: made.Name, Initials: made.Initials, Login: made.Login, Role: made.Role}
	if made.Role == Group { // which nobody signs in to by name
		named.Role = Assistant
	}
	if err := in.blame(place, named.checkNames()); err != nil || len(in.problems) > 0 {
		return err
	}
	if !in.restoring && made.Role != Group {
		in.note("new: account of %s (%s), who cannot sign in until a password is set", made.Name, made.Initials)
	}
	in.people[p.Initials] = Actor{made}
	return in.tx.Create(&made)
}

// takeLab takes over the rules and the bench of a file, unless the lab is at work already.
func (in *importer) takeLab(r Records) error {
	if r.Lab == nil {
		return nil
	}
	if len(in.problems) > 0 {
		return nil
	}
	if !in.fresh {
		in.note("the rules and the bench in the file were left alone: this lab has its own")
		return nil
	}
	if err := in.blame("/lab", checkThresholds(r.Lab.Thresholds).OrNil()); err != nil || len(in.problems) > 0 {
		return err
	}
	if r.Lab.FlaskClass != "A" && r.Lab.FlaskClass != "B" {
		in.problems.Add("/lab/flaskClass", "a flask is of class A or class B, not “%s”", r.Lab.FlaskClass)
		return nil
	}
	settings := store.Settings{
		ID:         1,
		LabName:    r.Lab.Name,
		FlaskClass: r.Lab.FlaskClass,
		Buoyancy:   r.Lab.Buoyancy,
		Thresholds: r.Lab.Thresholds,
		Version:    r.Lab.Version,
	}
	if err := in.tx.Save(&settings); err != nil || r.Bench == nil {
		return err
	}
	bench := store.Bench{ID: 1, Session: r.Bench.Session, WaterTemperature: r.Bench.WaterTemperature, Version: r.Bench.Version}
	bench.BalanceID, bench.MeterID = optionalID(in.balanceIDs[r.Bench.Balance]), optionalID(in.meterIDs[r.Bench.Meter])
	return in.tx.Save(&bench)
}

func (in *importer) takeCheck(place string, c CheckRecord) error {
	by, ok := in.person(place, c.By)
	balance, there := in.balanceIDs[c.Balance]
	if !there {
		in.problems.Add(place+"/balance", "no balance of this file has the ID “%s”", c.Balance)
	}
	if !ok || !there || !in.isID(place+"/id", c.ID) || len(in.problems) > 0 {
		return nil
	}
	row := store.BalanceCheck{
		ID: c.ID, BalanceID: balance, Weight: c.Weight, WeightLimits: c.Limits, Reading: c.Reading, Passed: c.Passed,
		Sentence: c.Sentence, MadeBy: by.ID, MadeAt: c.At,
	}
	if known, err := in.tx.BalanceCheckByID(c.ID); err == nil {
		if in.report.Known++; known.Reading != c.Reading || known.Weight != c.Weight || known.Passed != c.Passed {
			in.problems.Add(place, "another check is on record here under this ID")
		}
		return nil
	}
	return in.tx.Create(&row)
}

func (in *importer) takeBalance(place string, r BalanceRecord) {
	b := r.Balance
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
		old = store.Balance{Balance: b}
		old.ID, old.CreatedAt, old.Address = in.asGiven("balance "+b.Name, r.ID, in.balanceIDs[r.ID] != "", r.At, r.Address)
		in.balances[name] = old
		in.report.Balances++
		in.change(
			func() error { return in.addBalance(in.tx, &old) },
			"new: balance %s, %g g by %g g",
			b.Name,
			b.Capacity,
			b.Resolution,
		)
	}
	if r.ID != "" {
		in.balanceIDs[r.ID] = old.ID
	}
}

func (in *importer) takeGlass(place string, r GlassRecord) {
	item := r.Item
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
		row := store.Glass{ID: r.ID, Item: item, CreatedAt: in.now()}
		if !isUUID(r.ID) || in.hasGlass(r.ID) {
			row.ID = newID()
		}
		if r.At != nil {
			row.CreatedAt = *r.At
		}
		in.glass[key] = row
		in.report.Glass++
		in.change(func() error { return in.tx.Create(&row) }, "new: %d × %s", item.Count, item)
	}
}

func (in *importer) hasGlass(id string) bool {
	for _, g := range in.glass {
		if g.ID == id {
			return true
		}
	}
	return false
}

func (in *importer) takeSubstance(place string, r SubstanceRecord) {
	s := r.Substance
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
		if by, ok := in.people[r.By]; ok && r.At != nil {
			row.CreatedBy, row.CreatedAt = by.ID, *r.At
		}
		in.change(func() error { return in.tx.Create(&row) }, "new: %s (%s)", s.Name, s.Formula)
	}
}

func (in *importer) know(s OwnedSubstance) {
	in.byKey[s.Key], in.byName[strings.ToLower(s.Name)] = s, s
}

func glassKey(i glassware.Item) string {
	return fmt.Sprint(i.Kind, "|", i.Volume, "|", i.Class, "|", i.Mark)
}
