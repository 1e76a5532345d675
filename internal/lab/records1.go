package lab

import (
	"bytes"
	"encoding/json"
	"time"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/solution"
)

// The formats before this one. In the first, kinds of work had no request each: that of a
// standard solution stood in “request”, that of a dilution in “dilution”, and its stock
// beside. In both, the plan of a run stood in the run itself, and numbers, bottles and all
// that became of them were no part of the records.
var formerFormats = []string{"vialbench-records/1", "vialbench-records/2"}

// former is what former formats say of the work.
type former struct {
	PlanID   string          `json:"planId"`
	Kind     string          `json:"kind"`
	Request  json.RawMessage `json:"request"`
	Sources  []SourceRecord  `json:"sources"`
	Dilution json.RawMessage `json:"dilution"`
	Stock    *struct {
		Run  string `json:"run"`
		Tube int    `json:"tube"`
	} `json:"stock"`
}

func (f former) work() Work {
	switch {
	case f.Kind != "":
		return Work{f.Kind, f.Request, f.Sources}
	case len(f.Dilution) == 0:
		return Work{Kind: solution.Kind, Request: f.Request}
	}
	w := Work{Kind: dilution.Kind, Request: f.Dilution}
	if f.Stock != nil {
		w.Sources = []SourceRecord{{Role: dilution.RoleStock, Run: f.Stock.Run, Part: f.Stock.Tube}}
	}
	return w
}

// strictly reads JSON that has no member unknown to what it is read into.
func strictly(text []byte, into any) error {
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	return d.Decode(into)
}

// UnmarshalJSON reads a plan of this format and of former ones.
func (p *PlanRecord) UnmarshalJSON(text []byte) error {
	var r struct {
		ID     string `json:"id"`
		Number int64  `json:"number"`
		former
		By string    `json:"by"`
		At time.Time `json:"at"`
	}
	err := strictly(text, &r)
	*p = PlanRecord{r.ID, r.Number, r.work(), r.By, r.At}
	return err
}

// UnmarshalJSON reads a run of this format and of former ones.
func (x *RunRecord) UnmarshalJSON(text []byte) error {
	var r struct {
		ID     string      `json:"id"`
		Number int64       `json:"number"`
		Plan   *PlanRecord `json:"plan"`
		former
		Batch int             `json:"batch"`
		By    string          `json:"by"`
		Begun time.Time       `json:"begun"`
		Facts []FactRecord    `json:"facts"`
		Bench json.RawMessage `json:"bench"`
	}
	if err := strictly(text, &r); err != nil {
		return err
	}
	if r.Plan == nil {
		r.Plan = &PlanRecord{ID: r.PlanID, Work: r.work(), By: r.By, At: r.Begun}
	}
	*x = RunRecord{r.ID, r.Number, *r.Plan, r.Batch, r.By, r.Begun, r.Facts, r.Bench}
	return nil
}

// UnmarshalJSON reads a fact, which may have been written with a place and a time of
// recording.
func (f *FactRecord) UnmarshalJSON(text []byte) error {
	var r struct {
		fact.Fact
		Seq      int64      `json:"seq"`
		Recorded *time.Time `json:"recorded"`
	}
	err := strictly(text, &r)
	*f = FactRecord{r.Fact, r.Seq, r.Recorded}
	return err
}
