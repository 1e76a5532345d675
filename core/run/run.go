// Package run is what the runs of every kind share: the steps of a run sheet, where a
// run stands, and what its facts amount to. The kinds themselves (package solution,
// package dilution) turn a request and facts into an [Outcome].
package run

import (
	"time"

	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/verdict"
)

// Status is where a run stands.
type Status string

// A run is open until it is labelled (finished) or given up (void).
const (
	Open     Status = "open"
	Finished Status = "finished"
	Void     Status = "void"
)

// Input says what a step asks for.
type Input string

// The inputs of steps.
const (
	InputMass        Input = "mass"
	InputVolume      Input = "volume"
	InputTemperature Input = "temperature"
	InputCount       Input = "count"
	InputChoice      Input = "choice"
	InputLabel       Input = "label"
	InputReadings    Input = "readings" // of a scale, before and after
)

// State of a step.
type State string

// A step is done, at hand, or still to come.
const (
	Done   State = "done"
	Now    State = "now"
	Coming State = "coming"
)

// Step is one line of the run sheet.
type Step struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Hint  string `json:"hint,omitempty"`
	State State  `json:"state"`
	// Kind is the kind of fact that the step takes, Input how it is stated.
	Kind  string `json:"kind"`
	Input Input  `json:"input"`
	// Part is which of the solutes the step is about, from 0.
	Part int `json:"part,omitempty"`
	// Unit of what is typed, Default what stands in the field at first.
	Unit    string `json:"unit,omitempty"`
	Default string `json:"default,omitempty"`
	// Scale is where the scale ends that is read, in mL; 0 when none is.
	Scale   float64          `json:"scale,omitempty"`
	Options []verdict.Choice `json:"options,omitempty"`
	// Asks tells whether a reading is asked for; false when a decision is.
	Asks     bool              `json:"asks"`
	Summary  string            `json:"summary,omitempty"`
	Cautions []string          `json:"cautions,omitempty"`
	Verdicts []verdict.Verdict `json:"verdicts,omitempty"`
	// Facts are the IDs of the standing facts of the step.
	Facts []string `json:"facts,omitempty"`
}

// Vessel is what stands in front of the person, for the drawing.
type Vessel struct {
	Flask     glassware.Flask `json:"flask"`
	Tolerance float64         `json:"tolerance"`
	Neck      float64         `json:"neck"` // mm; 0 of a bottle, which has no mark
	// Filled is the volume of liquid in mL; Level says it in words.
	Filled float64 `json:"filled"`
	Level  string  `json:"level"`
	// What is taken: the reading in Unit (g or mL) on With, nil before the first one,
	// with the band to aim at.
	Unit     string   `json:"unit"`
	With     string   `json:"with"`
	Reading  *float64 `json:"reading,omitempty"`
	Target   float64  `json:"target"`
	Low      float64  `json:"low"`
	High     float64  `json:"high"`
	Decimals int      `json:"decimals"`
}

// Outcome is what the facts of a run amount to.
type Outcome struct {
	Status  Status          `json:"status"`
	Reason  string          `json:"reason,omitempty"` // why it is void
	Steps   []Step          `json:"steps"`
	Vessel  *Vessel         `json:"vessel,omitempty"` // nil of a dilution, which has a rack
	Figures []figure.Figure `json:"figures"`          // empty before a mass is known
	// Exact tells whether the concentration stands by weighing alone.
	Exact   bool   `json:"exact"`
	Expires string `json:"expires,omitempty"`
	Note    string `json:"note,omitempty"`
	// StandardiseBy is the day to standardise it again, when it does not stand by
	// weighing alone; Store how it is kept.
	StandardiseBy string `json:"standardiseBy,omitempty"`
	Store         string `json:"store,omitempty"`
	// Weighed are the times at which the balance was read.
	Weighed []time.Time `json:"weighed,omitempty"`
	// Volume made in mL at 20 °C, as far as known.
	Volume float64 `json:"volume"`
	// Rack is what a dilution makes, tube by tube; empty of other kinds.
	Rack []RackTube `json:"rack,omitempty"`
}

// RackTube is one tube of a dilution as it stands now.
type RackTube struct {
	Label string `json:"label"`
	// Made tells that it holds its solution; Void says why it is to be made again.
	Made bool   `json:"made"`
	Void string `json:"void,omitempty"`
	// Concentration in what is made, else as planned; Factor from the stock on.
	Concentration figure.Figure `json:"concentration"`
	Factor        float64       `json:"factor"`
	Volume        figure.Figure `json:"volume"` // made, in mL at 20 °C
}
