package capacity

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"

	"vialbench/core/calibration"
	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/figure"
	"vialbench/core/indicator"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Kind names this kind of work.
const Kind = "capacity"

var _ run.Sourced = Request{}

// Request is a capacity test as it is planned: a row of beakers.
type Request struct {
	// Name of what is tested, Mixture what is dissolved in it.
	Name    string              `json:"name"`
	Mixture equilibrium.Mixture `json:"mixture"`
	// Bottle and Number are those on the shelf; empty and 0 when it comes from elsewhere.
	Bottle string `json:"bottle,omitempty"`
	Number int64  `json:"number,omitempty"`
	// Volume in each beaker and Covered, the water that covers the probe, in mL.
	Volume  float64 `json:"volume"`
	Covered float64 `json:"covered,omitempty"`
	// Acid and Base are the strengths of what is added, in mol/L; 0 leaves that beaker out.
	Acid float64 `json:"acid"`
	Base float64 `json:"base"`
	// AcidFrom and BaseFrom are bottles on the shelf that are added instead of these.
	AcidFrom *Titrant `json:"acidFrom,omitempty"`
	BaseFrom *Titrant `json:"baseFrom,omitempty"`
	// Drink names an acid of unknown strength that is added instead of Acid.
	Drink string `json:"drink,omitempty"`
	// Portion is what is added each time, in mL; Drops tells how many of a dropper that is.
	Portion float64 `json:"portion"`
	Drops   int     `json:"drops,omitempty"`
	// Tip is what they fall from; of a plan without one nobody calibrated it.
	Tip *droptip.Tip `json:"tip,omitempty"`
	// Dilution is the water that is added at a time to a further beaker, in mL; 0 leaves it out.
	Dilution float64 `json:"dilution,omitempty"`
	// Baths are temperatures in °C that further beakers are brought to, Indicator what shows
	// their colour.
	Baths     []float64            `json:"baths,omitempty"`
	Indicator *indicator.Indicator `json:"indicator,omitempty"`
	// Water reports whether beakers of plain water stand beside.
	Water      bool               `json:"water"`
	Celsius    float64            `json:"celsius"`
	Probe      *calibration.Probe `json:"probe,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// MaxName is the longest name of what is tested.
const MaxName = 120

func (r Request) check() error {
	var p verdict.Problems
	if n := len([]rune(r.Name)); n == 0 || n > MaxName {
		p.Add("/name", "say what is tested, in at most %d letters", MaxName)
	}
	if !(r.Volume >= 1 && r.Volume <= 5000) {
		p.Add("/volume", "each beaker holds 1 to 5000 mL")
	}
	if !(r.Covered >= 0 && r.Covered <= r.Volume) {
		p.Add("/covered", "water that covers the probe is zero or more, and less than the solution itself")
	}
	for field, c := range map[string]float64{"/acid": r.Acid, "/base": r.Base} {
		if !(c >= 0 && c <= 10) {
			p.Add(field, "the strength of what is added is from 0 (none) to 10 mol/L")
		}
	}
	if len(r.beakers()) == 0 {
		p.Add("/acid", "say what is added: acid, base, or both; or dilute it, or warm it")
	}
	if !(r.Dilution >= 0 && r.Dilution <= maxWater) {
		p.Add("/dilution", "the water that dilutes it is zero (none) or more, at most %d mL at a time", maxWater)
	}
	r.checkBaths(&p)
	if len([]rune(r.Drink)) > MaxName {
		p.Add("/drink", "at most %d letters", MaxName)
	}
	if !(r.Portion > 0 && r.Portion <= r.Volume) {
		p.Add("/portion", "a portion is above zero, and less than what is in the beaker")
	}
	if r.Drops < 0 || r.Drops > maxPortion {
		p.Add("/drops", "a portion has at most %d drops", maxPortion)
	}
	if len(p) == 0 {
		m := r.Mixture
		m.Celsius = uncertain.Exact(r.Celsius)
		if err := m.Check(); err != nil {
			return err
		}
		r.checkTitrants(&p)
	}
	return p.OrNil()
}

// maxPortion is the most drops of a portion.
const maxPortion = 200

// MaxBaths is how many beakers are warmed or cooled at most.
const MaxBaths = 4

func (r Request) checkBaths(p *verdict.Problems) {
	if len(r.Baths) > MaxBaths {
		p.Add("/baths", "at most %d beakers are warmed or cooled", MaxBaths)
	}
	for i, celsius := range r.Baths {
		if !(celsius >= equilibrium.MinTemperature && celsius <= equilibrium.MaxTemperature) {
			p.Add(fmt.Sprintf("/baths/%d", i), "a bath has 0 to 60 °C")
		}
	}
}

// Beaker is one of the row.
type Beaker struct {
	Name string `json:"name"`
	// Acid reports whether acid is added, Water that it holds plain water.
	Acid  bool    `json:"acid"`
	Water bool    `json:"water"`
	C     float64 `json:"c"` // mol/L of what is added; 0 when that is not known
	With  string  `json:"with"`
	// Kind is what is done to it, Celsius the temperature of its bath.
	Kind    string  `json:"kind"`
	Celsius float64 `json:"celsius"`
	from    *Titrant
}

// What is done to a beaker: acid or base is added, or water; or it is warmed or cooled.
const (
	Titrated = "titrated"
	Diluted  = "diluted"
	InBath   = "bath"
)

// beakers are the row: the buffer with acid, with base, and water beside each; then that
// which is diluted, and those which are warmed or cooled.
func (r Request) beakers() []Beaker {
	var list []Beaker
	acid, base := "hydrochloric acid, "+quantity.Trim(r.Acid)+" mol/L", "sodium hydroxide solution, "+quantity.Trim(r.Base)+" mol/L"
	strength, alkaline := r.Acid, r.Base
	switch {
	case r.Drink != "":
		acid, strength = r.Drink, 0
	case r.AcidFrom != nil:
		acid, strength = r.AcidFrom.String(), r.AcidFrom.C.Value
	}
	if r.BaseFrom != nil {
		base, alkaline = r.BaseFrom.String(), r.BaseFrom.C.Value
	}
	for _, water := range []bool{false, true} {
		what := "buffer"
		if water {
			if what = "water"; !r.Water {
				continue
			}
		}
		if strength > 0 || r.Drink != "" {
			list = append(
				list,
				Beaker{Name: what + " with acid", Acid: true, Water: water, C: strength, With: acid, Kind: Titrated, from: r.AcidFrom},
			)
		}
		if alkaline > 0 {
			list = append(list, Beaker{Name: what + " with base", Water: water, C: alkaline, With: base, Kind: Titrated, from: r.BaseFrom})
		}
	}
	if r.Dilution > 0 {
		list = append(list, Beaker{Name: "buffer with water", With: "water", Kind: Diluted})
	}
	for _, celsius := range r.Baths {
		list = append(list, Beaker{Name: "buffer at " + quantity.Trim(celsius) + " °C", Kind: InBath, Celsius: celsius})
	}
	return list
}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Title names the test.
func (r Request) Title() string { return "Capacity of " + run.LowerFirst(r.Name) }

// Design is what a plan gives, as its page shows it.
type Design struct {
	Name    string   `json:"name"`
	Beakers []Beaker `json:"beakers"`
	Volume  float64  `json:"volume"`
	Covered float64  `json:"covered"`
	Portion string   `json:"portion"`
	// Moves says by how much the first portion moves the pH, by theory; empty where nothing of known
	// strength is added. Take is a portion that moves it by about 0.1, as it is typed: in mL, or in
	// drops where those are counted; empty where the plan's does.
	Moves string `json:"moves"`
	Take  string `json:"take"`
	Start string `json:"start"` // the calculated pH, before anything is added
	Beta  string `json:"beta"`  // and the capacity, mmol/L per pH
}

// Curve is theory of one beaker: pH against what was added, and the capacity at that pH.
type Curve struct {
	Added figure.Drawn `json:"added"`
	PH    figure.Drawn `json:"pH"`
	Beta  figure.Drawn `json:"beta"` // mol/L per pH
}

// curvePoints is how many points a curve has, over so many portions.
const curvePoints, curvePortions = 49, 12

// Design implements [run.Plan].
func (r Request) Design() (any, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	d := Design{
		Name:    r.Name,
		Beakers: r.beakers(),
		Volume:  r.Volume,
		Covered: r.Covered,
		Portion: r.sayPortion(),
	}
	s, err := r.vessel(Beaker{}).Mixture.Solver()
	if err != nil {
		return nil, err
	}
	d.Start, d.Beta = quantity.Digits(s.Solve().PH, 2), quantity.Digits(1000*s.Capacity(nil).Total, 1)
	d.Moves, d.Take = r.moves()
	return d, nil
}

// A portion that moves the pH by a tenth shows the capacity where it is (common practice); a half to
// twice as much will do.
const portionMoves, portionLeast, portionMost = 0.1, 0.05, 0.2

// moves says what a portion does to the buffer by theory, and proposes one.
func (r Request) moves() (says, take string) {
	best := 0.0
	var parts []string
	for _, b := range r.beakers() {
		if b.Kind != Titrated || b.Water || !(b.C > 0) {
			continue
		}
		v := r.vessel(b)
		moved := v.moved(r.Portion)
		with := "base"
		if b.Acid {
			with = "acid"
		}
		parts = append(parts, quantity.Digits(moved, 2)+" with "+with)
		if moved >= portionLeast && moved <= portionMost {
			continue
		}
		if mL := v.portion(portionMoves, r.Volume); mL > 0 && (best == 0 || mL < best) {
			best = mL
		}
	}
	if len(parts) == 0 {
		return "", ""
	}
	says = "One portion moves the pH by about " + strings.Join(parts, ", ") + "."
	if best == 0 {
		return says, ""
	}
	if r.Drops > 0 {
		n := max(1, int(math.Round(best*float64(r.Drops)/r.Portion)))
		if n == r.Drops || n > maxPortion {
			return says, ""
		}
		return says, strconv.Itoa(n)
	}
	take, _ = quantity.Round(best, best)
	return says, take
}

func (r Request) sayPortion() string {
	if r.Drops > 0 {
		return fmt.Sprintf("%d drops, %s mL", r.Drops, quantity.Trim(r.Portion))
	}
	return quantity.Trim(r.Portion) + " mL"
}

// vessel is a beaker before anything is added.
func (r Request) vessel(b Beaker) Vessel {
	full := r.Volume + r.Covered
	volume := uncertain.New(
		full,
		0.01*full,
		uncertain.Source{ID: "beaker", Label: "volume in the beaker", Basis: "measured with a cylinder, ±1 % (k = 1)"},
	)
	m := equilibrium.Mixture{}
	if !b.Water {
		m = r.Mixture.Scaled(uncertain.Exact(r.Volume / full))
	}
	m.Celsius = uncertain.Exact(r.Celsius)
	v := Vessel{Volume: volume, Mixture: m, Acid: b.Acid}
	if b.from != nil && b.Kind == Titrated && b.C > 0 {
		v.C, v.Compound = b.from.C, &b.from.Compound
		return v
	}
	v.C = uncertain.New(b.C, 0.005*b.C, uncertain.Source{
		ID: "titrant " + b.With, Label: "strength of what is added", Basis: "±0.5 % (k = 1)",
	})
	return v
}

func (r Request) curve(v Vessel, to float64) Curve {
	var c Curve
	for i := range curvePoints {
		c.Added = append(c.Added, to*float64(i)/(curvePoints-1))
	}
	for _, x := range v.Theory(c.Added) {
		c.PH, c.Beta = append(c.PH, x.PH), append(c.Beta, x.Beta)
	}
	return c
}
