package droptip

import (
	"fmt"
	"math"
	"reflect"
	"time"

	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Tip is one with the volume of its drops.
type Tip struct {
	Name string `json:"name"`
	// Volume of a drop in mL.
	Volume uncertain.Number `json:"volume"`
	// Scatter is how far counts of it scatter, as a part: one s. It is an error of each count.
	Scatter float64 `json:"scatter,omitempty"`
	// Run and Number are those of its calibration; empty and 0 of a tip that has none.
	Run    string    `json:"run,omitempty"`
	Number int64     `json:"number,omitempty"`
	At     time.Time `json:"at,omitzero"`
}

// uncounted is how well a drop is known that nobody calibrated, as a part of it, k = 1 (common
// practice: it varies with the tip and the liquid).
const uncounted = 0.05

// Uncounted is a tip whose drops have the volume in mL that somebody says, and were not
// calibrated here.
func Uncounted(name string, mL float64) Tip {
	return Tip{Name: name, Volume: uncertain.New(mL, uncounted*mL, uncertain.Source{
		ID: "drop " + name, Label: "volume of a drop", Basis: "±5 % (k = 1): not calibrated",
	})}
}

// Drops is the volume of n drops in mL; id keeps the counts apart.
func (t Tip) Drops(n float64, id string) uncertain.Number {
	v := t.Volume.Scale(n)
	if t.Scatter == 0 || n == 0 {
		return v
	}
	return v.Plus(uncertain.New(0, t.Scatter*v.Value, uncertain.Source{
		ID: "count " + id, Label: "drops of one size", Basis: fmt.Sprintf("counts of this tip scatter by %.2g %%", 100*t.Scatter),
	}))
}

// RoleTip is the source that counted drops depend on: the run that calibrated their tip.
const RoleTip = "tip"

// Uses adds it to what a plan depends on, where there is one.
func (t *Tip) Uses(uses *run.Uses) {
	if t != nil && t.Run != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleTip, Run: t.Run})
	}
}

// From is the tip as its calibration has it now; changed is false when nothing moved.
func (t *Tip) From(source run.Product) (now *Tip, changed bool) {
	is, ok := source.Detail.(Result)
	if !ok {
		return t, false
	}
	is.Tip.Run, is.Tip.Number = t.Run, t.Number
	return &is.Tip, !reflect.DeepEqual(*t, is.Tip)
}

// Bound is the tip with the run of its calibration in this lab.
func (t *Tip) Bound(source run.Source, number int64) *Tip {
	is := *t
	is.Run, is.Number = source.Run, number
	return &is
}

// Say writes a number of drops.
func Say(n int) string {
	if n == 1 {
		return "1 drop"
	}
	return fmt.Sprintf("%d drops", n)
}

// String names its drops: “drops of 0.0480 ± 0.0010 mL from Dropper 3, run 7”.
func (t Tip) String() string {
	text, u := quantity.Round(t.Volume.Value, t.Volume.Expanded())
	text = fmt.Sprintf("drops of %s ± %s mL from %s", text, u, t.Name)
	if t.Number > 0 {
		text += fmt.Sprintf(", run %d", t.Number)
	}
	return text
}

// MaxName is the longest name of a tip, and of a liquid.
const MaxName = 60

// largest is the largest drop in mL that can be meant, smallest the smallest: tips of
// pipettes give about 0.03, of burettes 0.05.
const (
	largest  = 0.2
	smallest = 0.002
)

// Check reports whether drops of it can be counted with.
func (t Tip) Check() error {
	var p verdict.Problems
	if v := t.Volume.Value; !(v >= smallest && v <= largest) {
		p.Add("", "a drop is from %g to %g mL, 0.05 mL as a rule: count 20 of them into a cylinder", smallest, largest)
	}
	return p.OrNil()
}

// Count is one: how many drops, and what they came to in mL.
type Count struct {
	Drops  int              `json:"drops"`
	Volume uncertain.Number `json:"volume"`
}

// Found is the result of counts.
type Found struct {
	// Volume of a drop in mL, Each that by each count.
	Volume uncertain.Number
	Each   []float64
	// SD of the counts as a part of the mean, Range how far the largest is from the smallest; both
	// 0 of one count.
	SD, Range float64
}

// Solve finds the volume of a drop. ok is false without a count.
func Solve(counts []Count) (f Found, ok bool) {
	if len(counts) == 0 {
		return f, false
	}
	k := float64(len(counts))
	mean := uncertain.Number{}
	low, high := math.Inf(1), 0.0
	for _, c := range counts {
		v := c.Volume.Scale(1 / float64(c.Drops))
		f.Each = append(f.Each, v.Value)
		mean = mean.Plus(v.Scale(1 / k))
		low, high = min(low, v.Value), max(high, v.Value)
	}
	if len(counts) == 1 {
		f.Volume = mean.Plus(uncertain.New(0, uncounted*mean.Value, uncertain.Source{
			ID: "constancy", Label: "drops of one size", Basis: "±5 % (k = 1): one count shows no constancy",
		}))
		return f, true
	}
	s := 0.0
	for _, v := range f.Each {
		s += (v - mean.Value) * (v - mean.Value)
	}
	s = math.Sqrt(s / (k - 1))
	f.SD, f.Range = s/mean.Value, (high-low)/mean.Value
	f.Volume = mean.Plus(uncertain.New(0, s/math.Sqrt(k), uncertain.Source{
		ID: "constancy", Label: "drops of one size", Basis: fmt.Sprintf("scatter of %d counts, s/√%d", len(counts), len(counts)), DoF: k - 1,
	}))
	return f, true
}
