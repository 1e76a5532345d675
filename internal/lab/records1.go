package lab

import (
	"encoding/json"
	"time"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/solution"
)

// formatOne is the format of the records before kinds of work had a request each: the
// request of a standard solution stood in “request”, that of a dilution in “dilution”, and
// its stock beside.
const formatOne = "vialbench-records/1"

// workOne is what format 1 says of the work.
type workOne struct {
	Request  json.RawMessage `json:"request"`
	Dilution json.RawMessage `json:"dilution"`
	Stock    *struct {
		Run  string `json:"run"`
		Tube int    `json:"tube"`
	} `json:"stock"`
}

func (one workOne) work() Work {
	if len(one.Dilution) == 0 {
		return Work{Kind: solution.Kind, Request: one.Request}
	}
	w := Work{Kind: dilution.Kind, Request: one.Dilution}
	if one.Stock != nil {
		w.Sources = []SourceRecord{{dilution.RoleStock, one.Stock.Run, one.Stock.Tube}}
	}
	return w
}

// UnmarshalJSON reads records of this format, and of format 1.
func (r *Records) UnmarshalJSON(text []byte) error {
	type plain Records
	if err := json.Unmarshal(text, (*plain)(r)); err != nil || r.Format != formatOne {
		return err
	}
	var old struct {
		Plans []struct {
			ID string `json:"id"`
			workOne
			By string    `json:"by"`
			At time.Time `json:"at"`
		} `json:"plans"`
		Runs []struct {
			ID     string `json:"id"`
			PlanID string `json:"planId"`
			workOne
			Batch int         `json:"batch"`
			By    string      `json:"by"`
			Begun time.Time   `json:"begun"`
			Facts []fact.Fact `json:"facts"`
		} `json:"runs"`
	}
	if err := json.Unmarshal(text, &old); err != nil {
		return err
	}
	r.Plans, r.Runs = nil, nil
	for _, p := range old.Plans {
		r.Plans = append(r.Plans, PlanRecord{p.ID, p.work(), p.By, p.At})
	}
	for _, x := range old.Runs {
		r.Runs = append(r.Runs, RunRecord{x.ID, x.PlanID, x.work(), x.Batch, x.By, x.Begun, x.Facts})
	}
	return nil
}
