package lab

import (
	"encoding/json"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/photometry"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// RecordsFormat names the open format of import and export.
const RecordsFormat = "vialbench-records/3"

// Records are all records of a lab in the open format: what an export writes and an
// import reads. Everything carries its ID, so that records taken in twice are kept once.
// The runs come last, since there are many of them and each is read by itself. Passwords
// and sessions are no records.
type Records struct {
	Format      string             `json:"format"`
	Lab         *RulesRecord       `json:"lab,omitempty"`
	People      []PersonRecord     `json:"people,omitempty"`
	Balances    []BalanceRecord    `json:"balances,omitempty"`
	Meters      []MeterRecord      `json:"meters,omitempty"`
	Photometers []PhotometerRecord `json:"photometers,omitempty"`
	Bench       *BenchRecord       `json:"bench,omitempty"`
	Glass       []GlassRecord      `json:"glass,omitempty"`
	Substances  []SubstanceRecord  `json:"substances,omitempty"`
	Systems     []SystemRecord     `json:"systems,omitempty"`
	Checks      []CheckRecord      `json:"checks,omitempty"`
	Care        []CareRecord       `json:"care,omitempty"`
	Bottles     []BottleRecord     `json:"bottles,omitempty"`
	Takings     []TakingRecord     `json:"takings,omitempty"`
	Changes     []ChangeRecord     `json:"changes,omitempty"`
	History     []HistoryRecord    `json:"history,omitempty"`
	Sessions    []SessionRecord    `json:"sessions,omitempty"`
	Store       []ArticleRecord    `json:"store,omitempty"`
	// Plans are those that were never run; the others stand with their runs.
	Plans []PlanRecord `json:"plans,omitempty"`
	Runs  []RunRecord  `json:"runs,omitempty"`
}

// RulesRecord are the name and the rules of a lab.
type RulesRecord struct {
	Name       string             `json:"name"`
	FlaskClass string             `json:"flaskClass"`
	Buoyancy   bool               `json:"buoyancy"`
	Thresholds verdict.Thresholds `json:"thresholds"`
	Version    int                `json:"version"`
}

// BenchRecord is what is on the bench; balance and meter are named by their IDs.
type BenchRecord struct {
	Session          string  `json:"session"`
	WaterTemperature float64 `json:"waterTemperature"`
	Balance          string  `json:"balance,omitempty"`
	Meter            string  `json:"meter,omitempty"`
	Version          int     `json:"version"`
}

// PersonRecord is an account without its password.
type PersonRecord struct {
	ID       string    `json:"id"`
	Name     string    `json:"name"`
	Initials string    `json:"initials"`
	Login    string    `json:"login"`
	Role     string    `json:"role"`
	Active   bool      `json:"active"`
	At       time.Time `json:"at"`
}

// BalanceRecord is a balance of the lab.
type BalanceRecord struct {
	ID string `json:"id,omitempty"`
	weighing.Balance
	Address string     `json:"address,omitempty"`
	At      *time.Time `json:"at,omitempty"`
}

// MeterRecord is a pH meter of the lab.
type MeterRecord struct {
	ID string `json:"id,omitempty"`
	electrode.Meter
	Address string     `json:"address,omitempty"`
	At      *time.Time `json:"at,omitempty"`
}

// PhotometerRecord is a photometer of the lab.
type PhotometerRecord struct {
	ID string `json:"id,omitempty"`
	photometry.Photometer
	Address string     `json:"address,omitempty"`
	At      *time.Time `json:"at,omitempty"`
}

// CareRecord is something that was done to the probe of a meter, which is named by its ID.
type CareRecord struct {
	ID    string    `json:"id"`
	Meter string    `json:"meter"`
	Probe string    `json:"probe"`
	What  string    `json:"what"`
	By    string    `json:"by"`
	At    time.Time `json:"at"`
}

// GlassRecord is glass of the lab.
type GlassRecord struct {
	ID string `json:"id,omitempty"`
	glassware.Item
	At *time.Time `json:"at,omitempty"`
}

// SubstanceRecord is a substance of the lab's own. People are named by their initials,
// here and below.
type SubstanceRecord struct {
	substance.Substance
	By string     `json:"by,omitempty"`
	At *time.Time `json:"at,omitempty"`
}

// CheckRecord is one check of a balance, which is named by its ID.
type CheckRecord struct {
	ID       string    `json:"id"`
	Balance  string    `json:"balance"`
	Weight   float64   `json:"weight"`
	Limits   float64   `json:"limits"`
	Reading  float64   `json:"reading"`
	Passed   bool      `json:"passed"`
	Sentence string    `json:"sentence"`
	By       string    `json:"by"`
	At       time.Time `json:"at"`
}

// BottleRecord is what cannot be computed of a bottle: its ID and number, which are on
// its label, and what became of it. Run and Part say which product it holds; what was
// poured together has none.
type BottleRecord struct {
	ID     string       `json:"id"`
	Number int64        `json:"number"`
	Run    string       `json:"run,omitempty"`
	Part   int          `json:"part,omitempty"`
	Plan   string       `json:"plan"`
	From   []FromRecord `json:"from,omitempty"`
	State  string       `json:"state"`
	Reason string       `json:"reason,omitempty"`
	// Product stands here when it cannot be computed any more: of what is void.
	Product *run.Product `json:"product,omitempty"`
	Printed *time.Time   `json:"printed,omitempty"`
	By      string       `json:"by"`
	At      time.Time    `json:"at"`
}

// FromRecord is what a bottle was made from. Share is how much of it was poured in.
type FromRecord struct {
	Bottle string   `json:"bottle"`
	Share  *float64 `json:"share,omitempty"`
}

// TakingRecord is what was taken out of a bottle, in mL; Run is the run that took it, if one did.
type TakingRecord struct {
	ID      string    `json:"id"`
	Seq     int64     `json:"seq"`
	Bottle  string    `json:"bottle"`
	Volume  float64   `json:"volume"`
	Purpose string    `json:"purpose"`
	By      string    `json:"by"`
	At      time.Time `json:"at"`
	Run     *string   `json:"run,omitempty"`
}

// ChangeRecord says how the figure of a bottle moved.
type ChangeRecord struct {
	Bottle string    `json:"bottle"`
	Moved  string    `json:"moved"`
	Cause  string    `json:"cause"`
	At     time.Time `json:"at"`
}

// HistoryRecord is what a row of a table said before it was changed; By is an account.
type HistoryRecord struct {
	What   string          `json:"what"`
	Row    string          `json:"row"`
	Before json.RawMessage `json:"before"`
	Gone   bool            `json:"gone,omitempty"`
	By     *string         `json:"by,omitempty"`
	At     time.Time       `json:"at"`
}

// Work is what is made: the kind, the request as the kind has it, and what that takes
// from.
type Work struct {
	Kind    string          `json:"kind"`
	Request json.RawMessage `json:"request"`
	Sources []SourceRecord  `json:"sources,omitempty"`
}

// SourceRecord names the product that a plan takes from by the run that made it and by its
// part; what was poured together, by its bottle.
type SourceRecord struct {
	Role   string `json:"role"`
	Run    string `json:"run,omitempty"`
	Part   int    `json:"part,omitempty"`
	Bottle string `json:"bottle,omitempty"`
	// Result reports whether it takes the result of the run, and no product on the shelf.
	Result bool `json:"result,omitempty"`
}

// PlanRecord is one plan.
type PlanRecord struct {
	ID     string `json:"id"`
	Number int64  `json:"number,omitempty"`
	Work
	By string    `json:"by"`
	At time.Time `json:"at"`
}

// RunRecord is one run with its plan and every fact.
type RunRecord struct {
	ID     string       `json:"id"`
	Number int64        `json:"number,omitempty"`
	Plan   PlanRecord   `json:"plan"`
	Batch  int          `json:"batch,omitempty"`
	By     string       `json:"by"`
	Begun  time.Time    `json:"begun"`
	Facts  []FactRecord `json:"facts"`
	// Bench is where it was carried out, where that is not what its plan was made for.
	Bench json.RawMessage `json:"bench,omitempty"`
}

// FactRecord is a fact with its place among all facts, and when it went on record.
type FactRecord struct {
	fact.Fact
	Seq      int64      `json:"seq,omitempty"`
	Recorded *time.Time `json:"recorded,omitempty"`
}

// Shift moves the times of runs and facts by whole days, so that sample records are of
// this week. They went on record when they were made.
func (r *Records) Shift(days int) {
	for i := range r.Runs {
		run := &r.Runs[i]
		run.Begun, run.Plan.At = run.Begun.AddDate(0, 0, days), run.Plan.At.AddDate(0, 0, days)
		for j := range run.Facts {
			f := &run.Facts[j]
			f.At = f.At.AddDate(0, 0, days)
			f.Recorded = &f.At
			if d, err := time.Parse(time.DateOnly, f.Date); err == nil {
				f.Date = d.AddDate(0, 0, days).Format(time.DateOnly)
			}
		}
	}
	for i := range r.Care {
		r.Care[i].At = r.Care[i].At.AddDate(0, 0, days)
	}
}
