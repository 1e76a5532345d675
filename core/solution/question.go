package solution

import (
	"fmt"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/core/working"
)

// SoluteQuestion is what people ask of one substance: in per cent, and as they type it.
type SoluteQuestion struct {
	Substance          substance.Substance `json:"substance"`
	AssayPercent       float64             `json:"assayPercent"`
	AssayLimitsPercent float64             `json:"assayLimitsPercent,omitempty"`
	DryingLossPercent  float64             `json:"dryingLossPercent,omitempty"`
	Concentration      quantity.Stated     `json:"concentration"`
	Of                 string              `json:"of,omitempty"`
	Waters             *float64            `json:"waters,omitempty"`
	EquivalentCount    float64             `json:"equivalentCount,omitempty"`
	Reaction           string              `json:"reaction,omitempty"`
	LiquidDensity      float64             `json:"liquidDensity,omitempty"`
	StatedMolarity     float64             `json:"statedMolarity,omitempty"`
	StatedLimits       float64             `json:"statedMolarityLimits,omitempty"`
}

// Question is what people ask for. The first solute stands in the question itself.
type Question struct {
	SoluteQuestion
	Also                  []SoluteQuestion   `json:"also,omitempty"`
	SolutionDensity       float64            `json:"solutionDensity,omitempty"`
	SolutionDensityLimits float64            `json:"solutionDensityLimits,omitempty"`
	Dispense              glassware.Kind     `json:"dispense,omitempty"`
	Volume                quantity.Stated    `json:"volume"`
	MakeUp                MakeUp             `json:"makeUp,omitempty"`
	Glass                 []glassware.Item   `json:"glass,omitempty"`
	FlaskClass            glassware.Class    `json:"flaskClass"`
	InBatches             bool               `json:"inBatches,omitempty"`
	BandPercent           float64            `json:"bandPercent"`
	WantedPercent         float64            `json:"wantedPercent,omitempty"`
	Balance               weighing.Balance   `json:"balance"`
	Balances              []weighing.Balance `json:"balances,omitempty"`
	WaterTemperature      float64            `json:"waterTemperature"`
	Buoyancy              bool               `json:"buoyancy,omitempty"`
	Thresholds            verdict.Thresholds `json:"thresholds,omitempty"`
}

// Answer is the recipe for a question, with how the mass to weigh comes about.
type Answer struct {
	Title   string         `json:"title"`
	Recipe  Recipe         `json:"recipe"`
	Working []working.Line `json:"working"`
}

// Solve answers a question. An error is a verdict.Problems.
func Solve(q Question) (Answer, error) {
	r, err := q.Request()
	if err != nil {
		return Answer{}, err
	}
	recipe, err := r.Recipe()
	if err != nil {
		return Answer{}, err
	}
	lines, err := r.Explain(nil, planFigure)
	return Answer{r.Title(), recipe, lines}, err
}

// Request reads the quantities of a question. An error is a verdict.Problems.
func (q Question) Request() (Request, error) {
	var p verdict.Problems
	r := Request{
		Solute: q.solute("", &p), FlaskClass: q.FlaskClass, Band: q.BandPercent / 100, Wanted: q.WantedPercent / 100,
		Balance: q.Balance, WaterTemperature: q.WaterTemperature, Dispense: q.Dispense, MakeUp: q.MakeUp, Glass: q.Glass, Balances: q.Balances,
		InBatches: q.InBatches, SolutionDensity: q.SolutionDensity, SolutionDensityLimits: q.SolutionDensityLimits,
		Buoyancy: q.Buoyancy, Thresholds: q.Thresholds,
	}
	for i, s := range q.Also {
		r.Also = append(r.Also, s.solute(fmt.Sprintf("/also/%d", i), &p))
	}
	var err error
	if r.Volume, err = q.Volume.Read(quantity.Volume); err != nil {
		p.Add("/volume", "%s", err)
	}
	return r, p.OrNil()
}

// solute reads one solute, which stands at a JSON pointer. What is counted may be typed
// behind the concentration: "10 mg/L NO3-N", "100 mg/L as CaCO3".
func (q SoluteQuestion) solute(at string, p *verdict.Problems) Solute {
	text, of := q.Concentration, q.Of
	if head, tail, ok := quantity.Counted(text.Text, Bases()); ok && of == "" {
		text.Text, of = head, tail
	}
	concentration, err := text.Read(Bases()...)
	if err != nil {
		p.Add(at+"/concentration", "%s", err)
	}
	return Solute{
		Substance:            q.Substance,
		Assay:                q.AssayPercent / 100,
		AssayLimits:          q.AssayLimitsPercent / 100,
		DryingLoss:           q.DryingLossPercent / 100,
		Waters:               q.Waters,
		Concentration:        concentration,
		Of:                   of,
		EquivalentCount:      q.EquivalentCount,
		Reaction:             q.Reaction,
		LiquidDensity:        q.LiquidDensity,
		StatedMolarity:       q.StatedMolarity,
		StatedMolarityLimits: q.StatedLimits,
	}
}
