package absorbance

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"time"

	"vialbench/core/line"
	"vialbench/core/photometry"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Kind names this kind of work.
const Kind = "absorbance"

var _ run.Sourced = Request{}

// Standard is a tube of known concentration.
type Standard struct {
	Bottle string `json:"bottle,omitempty"` // its ID; empty where it is not on the shelf
	Number int64  `json:"number,omitempty"`
	// Concentration in the unit of the request.
	Concentration uncertain.Number `json:"concentration"`
	// Name of one that is no tube of a rack: the portion of a sample.
	Name string `json:"name,omitempty"`
}

// Unknown is a solution that is read from the line.
type Unknown struct {
	Name   string `json:"name"`
	Owner  string `json:"owner,omitempty"`
	Bottle string `json:"bottle,omitempty"`
	Number int64  `json:"number,omitempty"`
	// Diluted is how many times it was diluted before, as typed; 0 or 1 when it was not. Descent is that by the record of its
	// bottle; nil where there is none.
	Diluted float64      `json:"diluted,omitempty"`
	Descent *run.Descent `json:"descent,omitempty"`
}

// Line is what was read of standards: what a line is fitted to.
type Line struct {
	Standards []Standard `json:"standards"`
	// Of names the standard of every reading, by its place; A are the readings.
	Of []int     `json:"of"`
	A  []float64 `json:"a"`
	At time.Time `json:"at"`
	// Scatter says how the readings scatter where they do not do so alike.
	Scatter *photometry.Scatter `json:"scatter,omitempty"`
	// Celsius is the temperature of the standards; nil where it was not read.
	Celsius *float64 `json:"celsius,omitempty"`
}

// Earlier is the line of an earlier run.
type Earlier struct {
	Run    string `json:"run"`
	Number int64  `json:"number"`
	Line   Line   `json:"line"`
}

// Before is a line of an earlier run of the same substance at the same wavelength, as it would be through the path of this one:
// about what will be read. The intercept is AU, the slope AU per unit of concentration.
type Before struct {
	Number    int64   `json:"number"` // of its run
	Slope     float64 `json:"slope"`
	Intercept float64 `json:"intercept"`
	SlopeSE   float64 `json:"slopeSE,omitempty"`
}

// Request is a line as it is planned.
type Request struct {
	// Substance says what is measured: “Phosphate as molybdate blue”; Unit is that of its concentrations.
	Substance string     `json:"substance"`
	Unit      string     `json:"unit"`
	Standards []Standard `json:"standards"`
	// Earlier is the line that is read from instead of standards; nil where they are read first.
	Earlier  *Earlier  `json:"earlier,omitempty"`
	Unknowns []Unknown `json:"unknowns"`
	// Additions make the standards, to portions of the sample itself; nil of a rack of standards.
	Additions *Additions `json:"additions,omitempty"`
	// Before is what the readings are expected by; nil where nothing like it was measured before.
	Before *Before `json:"before,omitempty"`
	// Wavelength in nm, Path through a cell in mm.
	Wavelength float64 `json:"wavelength"`
	Path       float64 `json:"path"`
	// Photometer that it is read with; nil where that is not on record.
	Photometer *photometry.Photometer `json:"photometer,omitempty"`
	// Cells that are used in turn, Replicates of every reading.
	Cells      int `json:"cells"`
	Replicates int `json:"replicates"`
	// Scatter says how the readings of the line scatter; nil where all do so alike.
	Scatter *photometry.Scatter `json:"scatter,omitempty"`
	// Guess reports whether each unknown is estimated by eye before it is read.
	Guess bool `json:"guess,omitempty"`
	// Warm reports whether the temperature of what is in the cell is read too.
	Warm       bool               `json:"warm,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// The most of each.
const (
	MaxName       = 60
	maxStandards  = 12
	maxUnknowns   = 30
	maxCells      = 4
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
	if n := len([]rune(r.Substance)); n == 0 || n > MaxName {
		p.Add("/substance", "say what is measured, in at most %d letters: “Phosphate as molybdate blue”", MaxName)
	}
	if !(r.Wavelength >= 190 && r.Wavelength <= 1100) {
		p.Add("/wavelength", "a wavelength is in nm, from 190 to 1100")
	} else {
		r.Photometer.CheckSetting(r.Wavelength, "/wavelength", &p)
	}
	if !(r.Path >= 1 && r.Path <= 100) {
		p.Add("/path", "the path through a cell is in mm, from 1 to 100: 10 in most")
	}
	if r.Cells < 1 || r.Cells > maxCells {
		p.Add("/cells", "take 1 to %d cells", maxCells)
	}
	if r.Replicates < 1 || r.Replicates > maxReplicates {
		p.Add("/replicates", "every tube is read 1 to %d times", maxReplicates)
	}
	switch {
	case r.Additions != nil:
		if r.Additions.check(&p); r.Scatter != nil || len(r.Unknowns) > 0 || r.Earlier != nil {
			p.Add("/additions", "additions to a sample are read alone, and all weigh alike")
		}
	case r.Earlier == nil:
		r.checkStandards(&p)
	}
	if r.Scatter != nil {
		r.Scatter.Check("/scatter", &p)
	}
	r.checkUnknowns(&p)
	return p.OrNil()
}

func (r Request) checkStandards(p *verdict.Problems) {
	if n := len(r.Standards); n < 3 || n > maxStandards {
		p.Add("/standards", "a line takes 3 to %d standards: two give no scatter", maxStandards)
		return
	}
	least, most := r.Standards[0].Concentration.Value, r.Standards[0].Concentration.Value
	for i, s := range r.Standards {
		c := s.Concentration.Value
		if !(c >= 0 && c <= 1e9) {
			p.Add("/standards/"+strconv.Itoa(i), "a concentration is 0 or more")
		}
		least, most = min(least, c), max(most, c)
	}
	if least == most {
		p.Add("/standards", "the standards are all of one concentration: a line needs several")
	}
}

func (r Request) checkUnknowns(p *verdict.Problems) {
	if n := len(r.Unknowns); n > maxUnknowns || n == 0 && r.Earlier != nil {
		p.Add("/unknowns", "read 1 to %d unknowns from a line", maxUnknowns)
	}
	for i, u := range r.Unknowns {
		field := "/unknowns/" + strconv.Itoa(i)
		if n := len([]rune(u.Name)); n == 0 || n > MaxName {
			p.Add(field+"/name", "say what it is, in at most %d letters", MaxName)
		}
		if n := len([]rune(u.Owner)); n > MaxName {
			p.Add(field+"/owner", "say whose it is, in at most %d letters", MaxName)
		}
		if u.Diluted != 0 && !(u.Diluted >= 1 && u.Diluted <= maxDiluted) {
			p.Add(field+"/diluted", "it was diluted 1 time or more: 10 of a tenth")
		}
	}
}

// Title names the line.
func (r Request) Title() string {
	switch {
	case r.Earlier != nil:
		return fmt.Sprintf("%s, read from the line of run %d", r.Substance, r.Earlier.Number)
	case r.Additions != nil:
		return fmt.Sprintf("%s by standard additions at %g nm", r.Substance, r.Wavelength)
	}
	return fmt.Sprintf("%s at %g nm", r.Substance, r.Wavelength)
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request `json:"request"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return Design{r}, r.check() }

// Parts implements [run.Plan]: standards first, then unknowns; cells count too.
func (r Request) Parts() int { return max(len(r.Standards)+len(r.Unknowns), r.Cells, ofUnknowns+1) }

// unknown is the place of a part among the unknowns; negative of a standard.
func (r Request) unknown(part int) int { return part - len(r.Standards) }

// order lists the parts as they are read: standards from dilute to strong, then the unknowns.
func (r Request) order() []int {
	list := make([]int, len(r.Standards)+len(r.Unknowns))
	for i := range list {
		list[i] = i
	}
	slices.SortStableFunc(list[:len(r.Standards)], func(a, b int) int {
		switch a, b := r.Standards[a].Concentration.Value, r.Standards[b].Concentration.Value; {
		case a < b:
			return -1
		case a > b:
			return 1
		}
		return 0
	})
	return list
}

// cell is the one that a part is read in, from 0: cells are used in turn.
func (r Request) cell(part int) int { return slices.Index(r.order(), part) % r.Cells }

// The roles of sources, with the place of what they are of behind them.
const (
	RoleLine      = "line"
	roleStandard  = "standard "
	roleUnknown   = "unknown "
	roleUndiluted = "undiluted "
)

// Uses implements [run.Plan].
func (r Request) Uses() (uses run.Uses) {
	uses.Instruments = r.Photometer.Instruments()
	add := func(role, bottle string) {
		if bottle != "" {
			uses.Sources = append(uses.Sources, run.Source{Role: role, Bottle: bottle})
		}
	}
	if r.Earlier != nil && r.Earlier.Run != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleLine, Run: r.Earlier.Run})
	}
	if r.Additions != nil {
		add(roleAdded, r.Additions.Bottle)
	}
	for i, s := range r.Standards {
		add(roleStandard+strconv.Itoa(i), s.Bottle)
	}
	for i, u := range r.Unknowns {
		add(roleUnknown+strconv.Itoa(i), u.Bottle)
		if u.Descent != nil {
			add(roleUndiluted+strconv.Itoa(i), u.Descent.Bottle)
		}
	}
	return uses
}

// placed parts a role into its name and the place behind it.
func placed(role string, count int) (name string, i int, ok bool) {
	for _, name := range []string{roleStandard, roleUnknown, roleUndiluted} {
		if len(role) > len(name) && role[:len(name)] == name {
			i, err := strconv.Atoi(role[len(name):])
			return name, i, err == nil && i >= 0 && i < count
		}
	}
	return role, 0, false
}

// From implements [run.Sourced]: tubes hold what the shelf says of them now, and an earlier line is as it stands now.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	if role == RoleLine {
		is, ok := source.Detail.(Line)
		if !ok || r.Earlier == nil {
			return r, false
		}
		was := *r.Earlier
		r.Earlier = &Earlier{was.Run, was.Number, is}
		return r, !was.Line.Same(is)
	}
	if role == roleAdded && r.Additions != nil {
		c, err := Strength(source, r.Unit)
		was := r.Additions.Standard
		if err != nil || was.Value == c.Value && was.U() == c.U() {
			return r, false
		}
		return r.withAdded(c), true
	}
	name, i, ok := placed(role, len(r.Standards)+len(r.Unknowns))
	switch {
	case !ok:
	case name == roleStandard && i < len(r.Standards):
		c, err := Strength(source, r.Unit)
		was := r.Standards[i].Concentration
		if err != nil || was.Value == c.Value && was.U() == c.U() {
			return r, false
		}
		r.Standards = slices.Clone(r.Standards)
		r.Standards[i].Concentration = c
		return r, true
	case name != roleStandard && i < len(r.Unknowns) && r.Unknowns[i].Descent != nil:
		now, changed := r.Unknowns[i].Descent.Follow(name == roleUndiluted, source)
		r.Unknowns = slices.Clone(r.Unknowns)
		r.Unknowns[i].Descent = now
		return r, changed
	}
	return r, false
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	if role == RoleLine && r.Earlier != nil {
		r.Earlier = &Earlier{source.Run, number, r.Earlier.Line}
		return r
	}
	if role == roleAdded && r.Additions != nil {
		d := *r.Additions
		d.Bottle, d.Number = source.Bottle, number
		r.Additions = &d
		return r
	}
	name, i, ok := placed(role, len(r.Standards)+len(r.Unknowns))
	switch {
	case !ok:
	case name == roleStandard:
		r.Standards = slices.Clone(r.Standards)
		r.Standards[i].Bottle, r.Standards[i].Number = source.Bottle, number
	default:
		r.Unknowns = slices.Clone(r.Unknowns)
		u := &r.Unknowns[i]
		if name == roleUnknown {
			u.Bottle, u.Number = source.Bottle, number
			break
		}
		d := *u.Descent
		d.Bottle, d.Number = source.Bottle, number
		u.Descent = &d
	}
	return r
}

// Same reports whether another line is the same.
func (l Line) Same(other Line) bool {
	return equal(l.Scatter, other.Scatter) && equal(l.Celsius, other.Celsius) && l.At.Equal(other.At) &&
		slices.Equal(l.A, other.A) && slices.Equal(l.Of, other.Of) &&
		slices.EqualFunc(l.Standards, other.Standards, func(a, b Standard) bool {
			return a.Concentration.Value == b.Concentration.Value && a.Concentration.U() == b.Concentration.U()
		})
}

func equal[T comparable](a, b *T) bool { return a == b || a != nil && b != nil && *a == *b }

// question is what the line is fitted to.
func (l Line) question(unit string, t verdict.Thresholds) photometry.Question {
	q := photometry.Question{Y: l.A, Unit: unit, Thresholds: t, Scatter: l.Scatter}
	for _, k := range l.Of {
		s := l.Standards[k]
		q.X, q.Names = append(q.X, s.Concentration.Value), append(q.Names, run.UpperFirst(s.name(unit)))
	}
	q.XCovariance = photometry.Covariance(l.concentrations(), l.Of)
	return q
}

// Ordinary is the line that counts of what was read, as [photometry.Question.Ordinary] has it.
func (l Line) Ordinary(unit string) (line.Line, func(absorbance float64) float64, error) {
	return l.question(unit, nil).Ordinary()
}

// Model is the line that counts, with its errors by the scatter of the readings.
func (l Line) Model(unit string) (photometry.Model, error) {
	q := l.question(unit, nil)
	q.XCovariance = nil
	answer, err := photometry.Fit(q)
	return answer.Line, err
}

func (l Line) concentrations() []uncertain.Number {
	list := make([]uncertain.Number, len(l.Standards))
	for i, s := range l.Standards {
		list[i] = s.Concentration
	}
	return list
}
