package lab

import (
	"context"
	"encoding/json"
	"errors"
	"reflect"
	"slices"

	"vialbench/core/benchtop"
	"vialbench/core/calibration"
	"vialbench/core/glassware"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// GroupBench is what a group has on its own bench, by the names that the lab gives it; what is left empty is the lab's. Celsius is the
// temperature of water and solutions there.
type GroupBench struct {
	Balance string   `json:"balance,omitempty"`
	Meter   string   `json:"meter,omitempty"`
	Burette string   `json:"burette,omitempty"`
	Celsius *float64 `json:"celsius,omitempty"`
}

// benchOf is the bench of a group; nil where it uses the lab's.
func benchOf(g store.ClassGroup) (*GroupBench, error) {
	if len(g.Bench) == 0 {
		return nil, nil //nolint:nilnil // that is the lab's bench
	}
	b := new(GroupBench)
	return b, json.Unmarshal(g.Bench, b)
}

// equipped is what of a lab a bench may have.
type equipped struct {
	balances []store.Balance
	meters   []store.Meter
	burettes []glassware.Item
}

func equippedBy(db *store.Store) (e equipped, err error) {
	if e.balances, err = db.Balances(); err != nil {
		return e, err
	}
	if e.meters, err = db.Meters(); err != nil {
		return e, err
	}
	glass, err := db.Glass()
	for _, g := range eachItem(glass) {
		if g.Kind == glassware.Burette {
			e.burettes = append(e.burettes, g)
		}
	}
	return e, err
}

// names are those that a group chooses from, each once.
func (e equipped) names() (balances, meters, burettes []string) {
	balances, meters, burettes = []string{}, []string{}, []string{}
	for _, b := range e.balances {
		balances = append(balances, b.Name)
	}
	for _, m := range e.meters {
		meters = append(meters, m.Name)
	}
	for _, b := range e.burettes {
		burettes = append(burettes, b.String())
	}
	return balances, meters, slices.Compact(burettes)
}

// lookAround fills in what the bench of a group has, and what it could have.
func (s *Sheet) lookAround(db *store.Store) error {
	at, err := benchOf(s.Group)
	if err != nil {
		return err
	}
	if at != nil {
		s.Bench = *at
	}
	e, err := equippedBy(db)
	s.Balances, s.Meters, s.Burettes = e.names()
	for _, b := range e.balances {
		if b.Name == s.Bench.Balance && b.Address != "" {
			s.Connected = append(s.Connected, Connected{b.ID, b.Name, "balances"})
		}
	}
	for _, m := range e.meters {
		if m.Name == s.Bench.Meter && m.Address != "" {
			s.Connected = append(s.Connected, Connected{m.ID, m.Name, "meters"})
		}
	}
	return err
}

// MayWatch reports whether somebody may watch an instrument, and set it to zero: a group those on its own bench.
func (l *Lab) MayWatch(ctx context.Context, by Actor, id string) error {
	if by.Role != Group {
		return nil
	}
	db := l.store.With(ctx)
	g, err := db.ClassGroupOf(by.ID)
	if err != nil {
		return found(err, "a group of yours")
	}
	s := Sheet{Group: g}
	if err := s.lookAround(db); err != nil {
		return err
	}
	if !slices.ContainsFunc(s.Connected, func(c Connected) bool { return c.ID == id }) {
		return Forbidden{"a group watches what stands on its own bench: choose it there first"}
	}
	return nil
}

// SetBench says what stands on the bench of the group that asks. Runs that it begins from now on are carried out there.
func (l *Lab) SetBench(ctx context.Context, by Actor, at GroupBench) (Sheet, error) {
	err := l.change(ctx, by, func(tx *store.Store) error {
		g, err := tx.ClassGroupOf(by.ID)
		if err != nil {
			return found(err, "a group of yours")
		}
		e, err := equippedBy(tx)
		if err != nil {
			return err
		}
		if err := at.check(e); err != nil {
			return err
		}
		text, err := json.Marshal(at)
		if err != nil {
			return err
		}
		return errors.Join(tx.SetBench(g.ID, text), tx.Announce(topicClass+g.SessionID))
	})
	if err != nil {
		return Sheet{}, err
	}
	return l.OwnSheet(ctx, by)
}

func (b GroupBench) check(e equipped) error {
	var p verdict.Problems
	balances, meters, burettes := e.names()
	for _, f := range []struct {
		field, name string
		there       []string
	}{{"/balance", b.Balance, balances}, {"/meter", b.Meter, meters}, {"/burette", b.Burette, burettes}} {
		if f.name != "" && !slices.Contains(f.there, f.name) {
			p.Add(f.field, "the lab has no “%s”: choose one of its own", f.name)
		}
	}
	if c := b.Celsius; c != nil && !(*c >= glassware.MinTemperature && *c <= glassware.MaxTemperature) {
		p.Add("/celsius", "water on a bench is from %g to %g °C", glassware.MinTemperature, glassware.MaxTemperature)
	}
	return p.OrNil()
}

// standsAt is the bench of a group as it stands now, for a run that is begun; nothing where it is the lab's. What the lab has no more is
// left to the plan.
func standsAt(tx *store.Store, g store.ClassGroup) (store.JSON, error) {
	at, err := benchOf(g)
	if err != nil || at == nil {
		return nil, err
	}
	e, err := equippedBy(tx)
	if err != nil {
		return nil, err
	}
	b := benchtop.Bench{Celsius: at.Celsius}
	for _, one := range e.balances {
		if one.Name == at.Balance {
			b.Balance = &one.Balance
		}
	}
	for _, one := range e.burettes {
		if one.String() == at.Burette {
			b.Burette = &one
		}
	}
	if at.Meter != "" {
		past, err := calibrationsOf(tx, at.Meter, 1)
		if err != nil {
			return nil, err
		}
		if len(past) > 0 {
			b.Probe = &calibration.Probe{Calibration: past[0].Calibration, At: past[0].At, Run: past[0].Run.ID, Number: past[0].Run.Number}
		}
	}
	return json.Marshal(b)
}

// roleBench is that of the calibration of the meter on the bench where a run is carried out.
const roleBench = "bench"

// standsOnBench records that a run depends on the calibration of the meter on its bench, where that is on record here.
func standsOnBench(tx *store.Store, row store.Run) error {
	b, err := benchtop.Read(row.Bench)
	if err != nil || b.Probe == nil || b.Probe.Run == "" {
		return err
	}
	if _, err := tx.RunByID(b.Probe.Run, false); isNotFound(err) {
		return nil
	} else if err != nil {
		return err
	}
	return tx.Stands(store.Source{RunID: &row.ID, Role: roleBench, EarlierID: &b.Probe.Run})
}

// rebench takes what a calibration gives now onto the bench where a run is carried out.
func rebench(row *store.Run, product *run.Product) (changed bool, err error) {
	is, ok := product.Detail.(calibration.Result)
	b, err := benchtop.Read(row.Bench)
	if err != nil || !ok || b.Probe == nil {
		return false, err
	}
	if reflect.DeepEqual(b.Probe.Calibration, is.Calibration) && b.Probe.At.Equal(is.At) {
		return false, nil
	}
	b.Probe.Calibration, b.Probe.At = is.Calibration, is.At
	row.Bench, err = json.Marshal(b)
	return true, err
}
