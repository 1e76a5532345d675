package lab

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"io"
	"slices"

	"vialbench/core/run"
	"vialbench/internal/store"
)

// Export writes all records as they stand at one moment, oldest run first. The same
// records always give the same bytes.
func (l *Lab) Export(ctx context.Context, out io.Writer) error {
	return l.store.With(ctx).Snapshot(func(db *store.Store) error {
		head, err := exportHead(db)
		if err != nil {
			return err
		}
		buffer := bufio.NewWriter(out)
		w := recordsWriter{buffer}
		for _, section := range []struct {
			name  string
			lines []any
		}{
			{"people", anys(head.People)},
			{"balances", anys(head.Balances)},
			{"meters", anys(head.Meters)},
			{"photometers", anys(head.Photometers)},
			{"glass", anys(head.Glass)},
			{"substances", anys(head.Substances)},
			{"systems", anys(head.Systems)},
			{"checks", anys(head.Checks)},
			{"care", anys(head.Care)},
			{"bottles", anys(head.Bottles)},
			{"takings", anys(head.Takings)},
			{"changes", anys(head.Changes)},
			{"history", anys(head.History)},
			{"sessions", anys(head.Sessions)},
			{"store", anys(head.Store)},
			{"plans", anys(head.Plans)},
		} {
			if section.name == "people" {
				w.text("{\"format\": \"" + RecordsFormat + "\"")
				w.member("lab", head.Lab)
				w.member("bench", head.Bench)
			}
			w.begin(section.name)
			for i, line := range section.lines {
				w.line(i, line)
			}
			w.text("]")
		}
		w.begin("runs")
		ids, err := db.RunIDs()
		if err != nil {
			return err
		}
		lines := 0
		for some := range slices.Chunk(ids, runsAtATime) {
			records, err := exportRuns(db, some)
			if err != nil {
				return err
			}
			for _, record := range records {
				w.line(lines, record)
				lines++
			}
		}
		w.text("]}\n")
		return buffer.Flush()
	})
}

// recordsWriter writes one record to a line. What goes wrong is told by Flush.
type recordsWriter struct{ out *bufio.Writer }

func (w recordsWriter) text(s string) { _, _ = w.out.WriteString(s) }

func (w recordsWriter) value(x any) {
	text, err := json.Marshal(x)
	if err != nil { // never: records are made of what was stored
		text = []byte("null")
	}
	_, _ = w.out.Write(text)
}

func (w recordsWriter) member(name string, x any) {
	w.text(",\n\"" + name + "\": ")
	w.value(x)
}

func (w recordsWriter) begin(name string) { w.text(",\n\"" + name + "\": [") }

func (w recordsWriter) line(i int, x any) {
	if i > 0 {
		w.text(",")
	}
	w.text("\n")
	w.value(x)
}

func anys[T any](list []T) []any {
	out := make([]any, len(list))
	for i := range list {
		out[i] = list[i]
	}
	return out
}

// runsAtATime is how many runs are read at once.
const runsAtATime = 200

// exportRuns are some runs as records.
func exportRuns(db *store.Store, ids []string) ([]RunRecord, error) {
	runs, err := db.RunsByID(ids)
	if err != nil {
		return nil, err
	}
	facts, err := db.FactsOfRuns(ids)
	if err != nil {
		return nil, err
	}
	plans := make([]store.Plan, len(ids))
	for i, id := range ids {
		plans[i] = runs[id].Plan
	}
	works, err := worksOf(db, plans)
	if err != nil {
		return nil, err
	}
	records := make([]RunRecord, len(ids))
	for i, id := range ids {
		r := runs[id]
		records[i] = RunRecord{
			ID:     id,
			Number: r.Number,
			Plan:   planRecord(r.Plan, works[i]),
			Batch:  r.Batch,
			By:     r.Beginner.Initials,
			Begun:  r.BegunAt.UTC(),
			Bench:  json.RawMessage(r.Bench),
			Facts:  make([]FactRecord, len(facts[id])),
		}
		for k, f := range facts[id] {
			recorded := f.RecordedAt.UTC()
			records[i].Facts[k] = FactRecord{f.Body, f.Seq, &recorded}
		}
	}
	return records, nil
}

func planRecord(p store.Plan, work Work) PlanRecord {
	return PlanRecord{p.ID, p.Number, work, p.Creator.Initials, p.CreatedAt.UTC()}
}

// exportHead gathers all records but the runs.
func exportHead(db *store.Store) (Records, error) {
	out := Records{Format: RecordsFormat}
	settings, err := db.Settings()
	if err != nil {
		return out, err
	}
	out.Lab = &RulesRecord{settings.LabName, settings.FlaskClass, settings.Buoyancy, settings.Thresholds, settings.Version}
	bench, err := db.Bench()
	if err != nil {
		return out, err
	}
	out.Bench = &BenchRecord{Session: bench.Session, WaterTemperature: bench.WaterTemperature, Version: bench.Version}
	if bench.BalanceID != nil {
		out.Bench.Balance = *bench.BalanceID
	}
	if bench.MeterID != nil {
		out.Bench.Meter = *bench.MeterID
	}
	if err := exportSetup(db, &out); err != nil {
		return out, err
	}
	if err := exportShelf(db, &out); err != nil {
		return out, err
	}
	history, err := db.Histories(fromStart, -1)
	if err != nil {
		return out, err
	}
	for _, h := range slices.Backward(history) {
		out.History = append(out.History, HistoryRecord{h.What, h.RowID, json.RawMessage(h.Before), h.Gone, h.By, h.At.UTC()})
	}
	plans, err := db.PlansNeverRun()
	if err != nil {
		return out, err
	}
	works, err := worksOf(db, plans)
	for i, work := range works {
		out.Plans = append(out.Plans, planRecord(plans[i], work))
	}
	if err != nil {
		return out, err
	}
	return out, errors.Join(exportSessions(db, &out), exportStore(db, &out))
}

func exportSetup(db *store.Store, out *Records) error {
	people, err := db.Accounts()
	if err != nil {
		return err
	}
	initials := map[string]string{}
	for _, a := range people {
		out.People = append(out.People, PersonRecord{a.ID, a.Name, a.Initials, a.Login, a.Role, a.Active, a.CreatedAt.UTC()})
		initials[a.ID] = a.Initials
	}
	balances, err := db.Balances()
	if err != nil {
		return err
	}
	for _, b := range balances {
		at := b.CreatedAt.UTC()
		out.Balances = append(out.Balances, BalanceRecord{b.ID, b.Balance, b.Address, &at})
	}
	if err := exportMeters(db, out); err != nil {
		return err
	}
	glass, err := db.Glass()
	if err != nil {
		return err
	}
	for _, g := range glass {
		at := g.CreatedAt.UTC()
		out.Glass = append(out.Glass, GlassRecord{g.ID, g.Item, &at})
	}
	own, err := db.Substances()
	if err != nil {
		return err
	}
	for _, s := range own {
		at := s.CreatedAt.UTC()
		out.Substances = append(out.Substances, SubstanceRecord{s.Substance, initials[s.CreatedBy], &at})
	}
	if err := exportSystems(db, out, initials); err != nil {
		return err
	}
	checks, err := db.BalanceChecks("", -1)
	for _, c := range slices.Backward(checks) {
		out.Checks = append(out.Checks,
			CheckRecord{c.ID, c.BalanceID, c.Weight, c.WeightLimits, c.Reading, c.Passed, c.Sentence, c.Maker.Initials, c.MadeAt.UTC()})
	}
	return err
}

func exportMeters(db *store.Store, out *Records) error {
	meters, err := db.Meters()
	if err != nil {
		return err
	}
	for _, m := range meters {
		at := m.CreatedAt.UTC()
		out.Meters = append(out.Meters, MeterRecord{m.ID, m.Meter, m.Address, &at})
	}
	care, err := db.CareOf("")
	if err != nil {
		return err
	}
	for _, c := range care {
		out.Care = append(out.Care, CareRecord{c.ID, c.MeterID, c.Probe, c.What, c.Maker.Initials, c.MadeAt.UTC()})
	}
	photometers, err := db.Photometers()
	for _, p := range photometers {
		at := p.CreatedAt.UTC()
		out.Photometers = append(out.Photometers, PhotometerRecord{p.ID, p.Photometer, p.Address, &at})
	}
	return err
}

func exportShelf(db *store.Store, out *Records) error {
	bottles, err := db.Bottles(store.ShelfFilter{}, fromStart, -1)
	if err != nil {
		return err
	}
	for _, b := range slices.Backward(bottles) {
		r := BottleRecord{
			ID: b.ID, Number: b.Number, Part: b.Part, Plan: b.PlanID, State: b.State, Reason: b.Reason, By: b.Maker.Initials,
			At: b.MadeAt.UTC(),
		}
		r.Run = runOf(b)
		if b.State == isVoid {
			r.Product = &b.Product
		}
		if b.LabelPrintedAt != nil {
			printed := b.LabelPrintedAt.UTC()
			r.Printed = &printed
		}
		parents, err := db.ParentsOf(b.ID)
		if err != nil {
			return err
		}
		for _, p := range parents {
			r.From = append(r.From, FromRecord{p.ParentID, p.Share})
		}
		out.Bottles = append(out.Bottles, r)
	}
	takings, err := db.AllTakings()
	if err != nil {
		return err
	}
	for _, t := range takings {
		out.Takings = append(out.Takings, TakingRecord{t.ID, t.Seq, t.BottleID, t.Volume, t.Purpose, t.Maker.Initials, t.MadeAt.UTC(), t.RunID})
	}
	changes, err := db.Changes("")
	for _, c := range changes {
		out.Changes = append(out.Changes, ChangeRecord{c.BottleID, c.Moved, c.Cause, c.At.UTC()})
	}
	return err
}

// worksOf are plans as records have them.
func worksOf(db *store.Store, plans []store.Plan) ([]Work, error) {
	ids := make([]string, len(plans))
	for i, p := range plans {
		ids[i] = p.ID
	}
	sources, err := db.SourcesOfPlans(ids)
	if err != nil {
		return nil, err
	}
	works := make([]Work, len(plans))
	for i, p := range plans {
		if works[i], err = workOf(p, sources[p.ID]); err != nil {
			return nil, err
		}
	}
	return works, nil
}

func workOf(p store.Plan, sources []store.PlanSource) (Work, error) {
	work := Work{Kind: p.Kind, Request: json.RawMessage(p.Request)}
	plan, err := planOf(p, 0)
	if err != nil {
		return work, err
	}
	work.Request, err = json.Marshal(unbound(plan))
	for _, s := range sources {
		switch {
		case s.EarlierID != nil:
			work.Sources = append(work.Sources, SourceRecord{Role: s.Role, Run: *s.EarlierID, Result: true})
		case s.BottleID == nil: // an instrument
		case s.FromRun != nil:
			work.Sources = append(work.Sources, SourceRecord{Role: s.Role, Run: *s.FromRun, Part: s.Part})
		default:
			work.Sources = append(work.Sources, SourceRecord{Role: s.Role, Bottle: *s.BottleID})
		}
	}
	return work, err
}

// unbound is a plan without the IDs and numbers of bottles, which are those of one lab.
func unbound(plan run.Plan) run.Plan {
	for _, s := range plan.Uses().Sources {
		if sourced, ok := plan.(run.Sourced); ok {
			plan = sourced.Bound(s.Role, run.Source{}, 0)
		}
	}
	return plan
}
