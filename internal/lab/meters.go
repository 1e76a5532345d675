package lab

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/figure"
	"vialbench/core/readings"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

// noDay is the time of what is asked without a day.
var noDay time.Time

// MeterView is a pH meter as it stands.
type MeterView struct {
	store.Meter
	Standing calibration.Standing
	// Newest is its newest calibration, if any; Open are those that somebody began.
	Newest *PastCalibration
	Open   []store.Run
}

// PastCalibration is a calibration that was in use.
type PastCalibration struct {
	calibration.Result
	Run     store.Run
	Figures []figure.Figure
}

// Meters lists the pH meters of the lab as they stand.
func (l *Lab) Meters(ctx context.Context) ([]MeterView, error) {
	db := l.store.With(ctx)
	meters, err := db.Meters()
	if err != nil {
		return nil, err
	}
	views := make([]MeterView, len(meters))
	for i, m := range meters {
		if views[i], err = l.meterView(db, m); err != nil {
			return nil, err
		}
	}
	return views, nil
}

func (l *Lab) meterView(db *store.Store, m store.Meter) (MeterView, error) {
	view := MeterView{Meter: m, Standing: calibration.NotCalibrated()}
	settings, err := db.Settings()
	if err != nil {
		return view, err
	}
	if view.Open, err = db.RunsWith(m.Name, calibration.Kind, string(run.Open), pageSize); err != nil {
		return view, err
	}
	past, err := calibrationsOf(db, m.Name, 1)
	if err != nil || len(past) == 0 {
		return view, err
	}
	view.Newest = &past[0]
	checked, failed, err := lastCheck(db, past[0].Run.ID)
	view.Standing = past[0].Stands(l.now(), checked, failed, settings.Thresholds)
	return view, err
}

// calibrationsOf lists the calibrations of a meter that were taken into use, newest first.
func calibrationsOf(db *store.Store, meter string, most int) ([]PastCalibration, error) {
	runs, err := db.RunsWith(meter, calibration.Kind, string(run.Finished), most)
	if err != nil {
		return nil, err
	}
	var list []PastCalibration
	for _, r := range runs {
		out, err := outcomeOf(db, r.ID)
		if err != nil {
			return nil, err
		}
		for _, p := range out.Products {
			if is, ok := p.Detail.(calibration.Result); ok {
				list = append(list, PastCalibration{is, r, p.Figures})
			}
		}
	}
	return list, nil
}

// outcomeOf is the result of the facts of a run.
func outcomeOf(db *store.Store, id string) (run.Outcome, error) {
	view, err := runView(db, id, false)
	if err != nil {
		return run.Outcome{}, err
	}
	return view.plan.Make(view.stated(), view.ChangedAt)
}

// lastCheck finds the last reading of a check buffer under a calibration, and reports whether
// it failed.
func lastCheck(db *store.Store, calibrationRun string) (checked time.Time, failed bool, err error) {
	after, err := db.RunsOfKindAfter(calibrationRun, readings.Kind)
	if err != nil {
		return checked, failed, err
	}
	for _, id := range after {
		out, err := outcomeOf(db, id)
		if err != nil {
			return checked, failed, err
		}
		view, ok := out.View.(readings.View)
		if !ok || out.Status == run.Void {
			continue
		}
		for _, row := range view.Rows {
			if row.Check && len(row.Verdicts) > 0 && row.At.After(checked) {
				checked, failed = row.At, row.Verdicts[0].Level == verdict.Stop
			}
		}
	}
	return checked, failed, nil
}

// AddMeter adds a pH meter. The first one goes onto the bench.
func (l *Lab) AddMeter(ctx context.Context, by Actor, m electrode.Meter) (MeterView, error) {
	if err := by.mayRule("adding meters"); err != nil {
		return MeterView{}, err
	}
	meter := store.Meter{ID: newID(), Meter: m, CreatedAt: l.now()}
	err := l.change(ctx, by, func(tx *store.Store) error { return l.addMeter(tx, &meter) })
	return MeterView{Meter: meter, Standing: calibration.NotCalibrated()}, err
}

func (l *Lab) addMeter(tx *store.Store, meter *store.Meter) error {
	meter.Name, meter.Probe = strings.TrimSpace(meter.Name), strings.TrimSpace(meter.Probe)
	if err := meter.Check(); err != nil {
		return err
	}
	if err := tx.Create(meter); err != nil {
		if store.IsDuplicate(err) {
			return verdict.Problems{{Field: "/name", Reason: "there is a meter of that name: give it another"}}
		}
		return err
	}
	err := ontoBench(tx, "meter_id", func(b *store.Bench) **string { return &b.MeterID }, &meter.ID)
	return errors.Join(err, tx.Announce("setup"))
}

// ChangeMeter changes where a meter speaks its line protocol (host:port, empty when it does
// not) and which probe hangs on it.
func (l *Lab) ChangeMeter(ctx context.Context, by Actor, id, address, probe string) error {
	if err := by.mayRule("connecting meters"); err != nil {
		return err
	}
	address, err := l.addressOf(address)
	if err != nil {
		return err
	}
	return l.change(ctx, by, func(tx *store.Store) error {
		meter, err := tx.MeterByID(id)
		if err != nil {
			return found(err, "this meter")
		}
		meter.Address, meter.Probe = address, strings.TrimSpace(probe)
		if err := meter.Check(); err != nil {
			return err
		}
		return errors.Join(tx.Save(&meter), tx.Announce("setup"), tx.Announce("bench"))
	})
}

// MeterHistory is what became of the probes of a meter.
type MeterHistory struct {
	Calibrations []PastCalibration // oldest first
	Care         []store.ProbeCare
}

// maxHistory is how many calibrations are looked back on.
const maxHistory = 60

// HistoryOfMeter tells what became of the probes of a meter, oldest first.
func (l *Lab) HistoryOfMeter(ctx context.Context, id string) (h MeterHistory, err error) {
	db := l.store.With(ctx)
	meter, err := db.MeterByID(id)
	if err != nil {
		return h, found(err, "this meter")
	}
	if h.Calibrations, err = calibrationsOf(db, meter.Name, maxHistory); err != nil {
		return h, err
	}
	slices.SortStableFunc(h.Calibrations, func(a, b PastCalibration) int { return a.At.Compare(b.At) })
	h.Care, err = db.CareOf(id)
	return h, err
}

// TakeCare records what was done to the probe of a meter. An id that is known already
// changes nothing.
func (l *Lab) TakeCare(ctx context.Context, by Actor, meterID, id, what string) error {
	what = strings.TrimSpace(what)
	if n := len([]rune(what)); n == 0 || n > maxCare {
		return verdict.Problems{{Field: "/what", Reason: fmt.Sprintf("say what was done, like “refilled”, in at most %d letters", maxCare)}}
	}
	return l.change(ctx, by, func(tx *store.Store) error {
		meter, err := tx.MeterByID(meterID)
		if err != nil {
			return found(err, "this meter")
		}
		if known, err := tx.CareByID(id); err == nil {
			if known.What != what || known.MeterID != meterID {
				return Conflict{"something else is on record under this ID: send it again as a new one"}
			}
			return nil
		}
		care := store.ProbeCare{ID: id, MeterID: meterID, Probe: meter.Probe, What: what, MadeBy: by.ID, MadeAt: l.now()}
		return errors.Join(tx.Create(&care), tx.Announce("setup"))
	})
}

// maxCare is the longest word on what was done to a probe.
const maxCare = 200

// takeMeter takes a meter of a record, by its name.
func (in *importer) takeMeter(place string, r MeterRecord) {
	m := r.Meter
	m.Name, m.Probe = strings.TrimSpace(m.Name), strings.TrimSpace(m.Probe)
	if err := m.Check(); in.blame(place, err) != nil || err != nil {
		return
	}
	name := strings.ToLower(m.Name)
	old, ok := in.meters[name]
	switch {
	case ok && old.Meter == m:
		in.report.Known++
	case ok:
		old.Meter = m
		in.report.Changed++
		in.change(func() error { return in.tx.Save(&old) }, "changed: pH meter %s", m.Name)
	default:
		old = store.Meter{Meter: m}
		old.ID, old.CreatedAt, old.Address = in.asGiven("pH meter "+m.Name, r.ID, in.meterIDs[r.ID] != "", r.At, r.Address)
		in.report.Meters++
		in.change(func() error { return in.addMeter(in.tx, &old) }, "new: pH meter %s", m.Name)
	}
	in.meters[name] = old
	if r.ID != "" {
		in.meterIDs[r.ID] = old.ID
	}
}

func (in *importer) takeCare(place string, c CareRecord) error {
	by, ok := in.person(place, c.By)
	meter, there := in.meterIDs[c.Meter]
	if !there {
		in.problems.Add(place+"/meter", "no meter of this file has the ID “%s”", c.Meter)
	}
	if !ok || !there || !in.isID(place+"/id", c.ID) || len(in.problems) > 0 {
		return nil
	}
	if known, err := in.tx.CareByID(c.ID); err == nil {
		if in.report.Known++; known.What != c.What || known.MeterID != meter {
			in.problems.Add(place, "something else is on record here under this ID")
		}
		return nil
	}
	return in.tx.Create(&store.ProbeCare{ID: c.ID, MeterID: meter, Probe: c.Probe, What: c.What, MadeBy: by.ID, MadeAt: c.At})
}
