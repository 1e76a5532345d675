// Package mixture is two substances that absorb beside each other, read at two wavelengths as work at the bench: the plan, the facts, and
// what samples hold of both. Each substance has a line of its own at both wavelengths, made in earlier runs. What is computed of one
// sample stands in package photometry.
package mixture

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Kind names this kind of work.
const Kind = "mixture"

var _ run.Sourced = Request{}

// Line is that of one substance at one wavelength, from the run that made it.
type Line struct {
	Run    string          `json:"run"`
	Number int64           `json:"number"`
	Line   absorbance.Line `json:"line"`
}

// Substance is one of the two.
type Substance struct {
	Name string `json:"name"`
	Unit string `json:"unit"` // of its concentrations
	// Lines are one for each wavelength of the request, in its order.
	Lines []Line `json:"lines"`
}

// Sample is a solution of both.
type Sample struct {
	Name string `json:"name"`
	// Diluted is how many times it was diluted before, as typed; 0 or 1 when it was not.
	Diluted float64 `json:"diluted,omitempty"`
}

// Request is the work as it is planned.
type Request struct {
	Substances []Substance `json:"substances"`
	// Wavelengths are two, nm; Path through the cell in mm, as that of the lines.
	Wavelengths []float64 `json:"wavelengths"`
	Path        float64   `json:"path"`
	Samples     []Sample  `json:"samples"`
	// Replicates of every reading.
	Replicates int `json:"replicates"`
	// Photometer that they are read with; nil where that is not on record.
	Photometer *photometry.Photometer `json:"photometer,omitempty"`
	Thresholds verdict.Thresholds     `json:"thresholds,omitempty"`
}

const (
	maxSamples    = 20
	maxReplicates = 5
	maxDiluted    = 1e6
)

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

func (r Request) check() error {
	var p verdict.Problems
	if len(r.Wavelengths) != 2 || r.Wavelengths[0] == r.Wavelengths[1] {
		p.Add("/wavelengths", "two substances are told apart at two wavelengths")
		return p
	}
	for i, nm := range r.Wavelengths {
		r.Photometer.CheckSetting(nm, "/wavelengths/"+strconv.Itoa(i), &p)
	}
	if len(r.Substances) != 2 || len(r.Substances[0].Lines) != 2 || len(r.Substances[1].Lines) != 2 {
		p.Add("/lines", "each of the two substances has a line at both wavelengths")
		return p
	}
	if r.Substances[0].Name == r.Substances[1].Name {
		p.Add("/lines", "these lines are all of %s: take those of two substances", r.Substances[0].Name)
	}
	if n := len(r.Samples); n < 1 || n > maxSamples {
		p.Add("/samples", "read 1 to %d samples", maxSamples)
	}
	for i, s := range r.Samples {
		field := "/samples/" + strconv.Itoa(i)
		if n := len([]rune(s.Name)); n == 0 || n > absorbance.MaxName {
			p.Add(field+"/name", "say what it is, in at most %d letters", absorbance.MaxName)
		}
		if s.Diluted != 0 && !(s.Diluted >= 1 && s.Diluted <= maxDiluted) {
			p.Add(field+"/diluted", "it was diluted 1 time or more: 10 of a tenth")
		}
	}
	if r.Replicates < 1 || r.Replicates > maxReplicates {
		p.Add("/replicates", "every sample is read 1 to %d times", maxReplicates)
	}
	return p.OrNil()
}

// Title names the work.
func (r Request) Title() string {
	if len(r.Substances) != 2 {
		return "Two substances beside each other"
	}
	return r.Substances[0].Name + " and " + run.LowerFirst(r.Substances[1].Name) + " beside each other"
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request `json:"request"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return Design{r}, r.check() }

// Parts implements [run.Plan]: every sample at the first wavelength, then every sample at the second.
func (r Request) Parts() int { return max(2, 2*len(r.Samples)) }

// part of a sample at a wavelength, both by their place; placed is the other way round.
func (r Request) part(sample, at int) int { return at*len(r.Samples) + sample }

func (r Request) placed(part int) (sample, at int) {
	return part % len(r.Samples), part / len(r.Samples)
}

// role of a line as a source.
func role(of, at int) string { return fmt.Sprintf("line %d", 2*of+at) }

// Uses implements [run.Plan].
func (r Request) Uses() (uses run.Uses) {
	uses.Instruments = r.Photometer.Instruments()
	for of, s := range r.Substances {
		for at, l := range s.Lines {
			if l.Run != "" {
				uses.Sources = append(uses.Sources, run.Source{Role: role(of, at), Run: l.Run})
			}
		}
	}
	return uses
}

// withLine is the request with one line changed.
func (r Request) withLine(named string, change func(*Line)) Request {
	for of := range r.Substances {
		for at := range r.Substances[of].Lines {
			if role(of, at) != named {
				continue
			}
			r.Substances = slices.Clone(r.Substances)
			s := &r.Substances[of]
			s.Lines = slices.Clone(s.Lines)
			change(&s.Lines[at])
			return r
		}
	}
	return r
}

// From implements [run.Sourced]: a line is as it stands now.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	is, ok := source.Detail.(absorbance.Line)
	changed := false
	if ok {
		r = r.withLine(role, func(l *Line) {
			changed = !l.Line.Same(is)
			l.Line = is
		})
	}
	return r, changed
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	return r.withLine(role, func(l *Line) { l.Run, l.Number = source.Run, number })
}

// The kinds of fact of a run, beside those that all kinds of work have. The Part of a blank is the place of its wavelength, that of a
// reading counts the samples at the first wavelength, then those at the second.
const (
	KindBlank = "mixture-blank" // Quantity: what it read after it was set to zero
	KindRead  = "mixture-read"  // Quantity: absorbance or transmittance
)

const (
	choiceEnd   = "end"
	choiceAgain = "again"
)

// Takes implements [run.Plan].
func (r Request) Takes(f fact.Fact) []quantity.Dimension {
	if f.Kind == KindBlank || f.Kind == KindRead {
		return photometry.Readings()
	}
	return nil
}

// Check implements [run.Plan].
func (r Request) Check(f fact.Fact) error {
	var p verdict.Problems
	if f.Kind != KindBlank && f.Kind != KindRead {
		return run.Check(f)
	}
	f.Only(&p, "quantity", "spread", "beside", "text")
	photometry.CheckShown(f.Quantity, &p)
	at := f.Part
	if f.Kind == KindRead {
		_, at = r.placed(f.Part)
	}
	if at > 1 {
		p.Add("/part", "there is no such sample or wavelength in this plan")
	} else {
		photometry.CheckSet(f.Beside, r.Wavelengths[at], &p)
	}
	return p.OrNil()
}

// Sentence implements [run.Plan].
func (r Request) Sentence(f fact.Fact) string {
	switch f.Kind {
	case KindBlank:
		return fmt.Sprintf("Blank set to zero at %s; it shows %s", r.sayNm(f.Part), f.Quantity) + f.Read()
	case KindRead:
		sample, at := r.placed(f.Part)
		return fmt.Sprintf("%s shows %s at %s", run.UpperFirst(r.Samples[sample].Name), f.Quantity, r.sayNm(at)) + f.Read()
	case run.KindDecided:
		sample, at := r.placed(f.Part)
		return run.Sentence(f, map[string]string{
			choiceEnd: "keep this result", choiceAgain: fmt.Sprintf("read %s again at %s", r.Samples[sample].Name, r.sayNm(at)),
		})
	}
	return run.Sentence(f, nil)
}

func (r Request) sayNm(at int) string {
	if at > 1 {
		return "another wavelength"
	}
	return quantity.Trim(r.Wavelengths[at]) + " nm"
}
