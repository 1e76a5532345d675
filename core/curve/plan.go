package curve

import (
	"encoding/json"
	"fmt"

	"vialbench/core/buffer"
	"vialbench/core/calibration"
	"vialbench/core/droptip"
	"vialbench/core/equilibrium"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Kind names this kind of work: a curve that is taken at the bench.
const Kind = "curve"

var _ run.Sourced = Request{}

// Request is a curve as it is planned.
type Request struct {
	// Flask is what is titrated: its concentration is about right, or what is sought; Burette what
	// it is titrated with. Acid and Base say what each brings into water.
	Flask   buffer.Stock         `json:"flask"`
	Analyte equilibrium.Compound `json:"analyte"`
	Burette buffer.Stock         `json:"burette"`
	Titrant equilibrium.Compound `json:"titrant"`
	Volume  float64              `json:"volume"`          // mL of it
	Water   float64              `json:"water,omitempty"` // mL that cover the probe
	Sample  glassware.Item       `json:"sample"`          // what it is measured with: a pipette or a cylinder
	// Glass is the burette; with a Tip drops are counted instead.
	Glass    glassware.Item     `json:"glass"`
	Tip      *droptip.Tip       `json:"tip,omitempty"`
	Celsius  float64            `json:"celsius"`
	Probe    *calibration.Probe `json:"probe,omitempty"`
	Carbonic bool               `json:"carbonic,omitempty"` // the carbonate of the base is sought too
	// Protonate is the acid that brings it to its fully protonated form first; nil without.
	Protonate *Protonate `json:"protonate,omitempty"`
	// Thresholds of the lab.
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// MaxAdditions is how many additions a curve has at most.
const MaxAdditions = 200

func (r Request) check() error {
	var p verdict.Problems
	if !(r.Volume > 0 && r.Volume <= 1000) {
		p.Add("/volume", "the volume in the flask is above zero, and at most 1000 mL")
	}
	if !(r.Water >= 0 && r.Water <= 1000) {
		p.Add("/water", "water that covers the probe is zero or more, and at most 1000 mL")
	}
	if r.Volume > 0 &&
		(r.Volume > r.Sample.Volume*(1+1e-9) || r.Sample.Kind != glassware.OneMarkPipette && r.Sample.Kind != glassware.Cylinder) {
		p.Add("/volume", "choose a pipette or a cylinder of the lab that holds the sample")
	}
	r.checkDevice(&p)
	if !(r.Celsius >= equilibrium.MinTemperature && r.Celsius <= equilibrium.MaxTemperature) {
		p.Add("/celsius", "equilibria are calculated from 0 to 60 °C")
	}
	if !(r.Flask.Concentration.Value >= 0) {
		p.Add("/flask", "about how strong is it, in mol/L? Leave it empty when it is unknown")
	}
	if !(r.Burette.Concentration.Value > 0) || r.Titrant.Strong() == 0 {
		p.Add("/burette", "a curve is taken with a strong acid or base of known strength")
	}
	if len(p) == 0 {
		r.checkProtonate(&p)
	}
	if len(p) == 0 && len(r.curve().Equivalences()) == 0 {
		p.Add("/burette", "%s does nothing to %s: an acid takes a base, and a base an acid", r.Burette.Name, r.Flask.Name)
	}
	return p.OrNil()
}

// sample is what is in the flask of it, in mL.
func (r Request) sample() uncertain.Number {
	if r.Sample.Kind == glassware.OneMarkPipette {
		return r.Sample.Delivered("flask")
	}
	return r.Sample.Reading(r.Volume, "")
}

// unknown reports whether nobody has a guess of how strong it is.
func (r Request) unknown() bool { return r.Flask.Concentration.Value == 0 }

// guess is about how strong it is, in mol/L: as somebody says, or such that half of the burette
// runs in to the last end point.
func (r Request) guess() float64 {
	if !r.unknown() {
		return r.Flask.Concentration.Value
	}
	c := Curve{Volume: r.Volume, Analyte: r.Analyte, C: 1, Titrant: r.Titrant, Strength: r.Burette.Concentration.Value}
	list := c.Equivalences()
	if len(list) == 0 {
		return 1
	}
	full := r.Glass.Volume
	if r.Tip != nil {
		full = maxDrops / 2 * r.Tip.Volume.Value
	}
	return full / 2 / list[len(list)-1]
}

// curve is the titration by the model, with as much acid as it takes.
func (r Request) curve() Curve {
	acid := 0.0
	if r.Protonate != nil {
		acid = r.missing() * r.guess() * r.Volume
	}
	return r.curveWith(r.guess(), r.AcidVolume(), acid)
}

// curveWith is that of c mol/L, with so many mL of acid that bring so many mmol of protons.
func (r Request) curveWith(c, mL, acid float64) Curve {
	full := r.Volume + r.Water + mL
	return Curve{
		Volume: full, Analyte: r.Analyte, C: c * r.Volume / full, Acid: acid / full, Titrant: r.Titrant,
		Strength: r.Burette.Concentration.Value, Celsius: r.Celsius,
	}
}

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// Title names the curve.
func (r Request) Title() string {
	return fmt.Sprintf("Curve of %s with %s", called(r.Flask), called(r.Burette))
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Title    string `json:"title"`
	Flask    string `json:"flask"`
	Burette  string `json:"burette"`
	Expected string `json:"expected"` // empty when it is unknown
	// Prospect is what the readings would give without any slip; empty when it is unknown.
	Prospect string            `json:"prospect"`
	Curve    Answer            `json:"curve"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	c := r.curve()
	a := Answer{Equivalences: c.Points()}
	last := a.Equivalences[len(a.Equivalences)-1].Volume
	volumes := make([]float64, usualPoints)
	for i := range volumes {
		volumes[i] = beyond * last * float64(i) / float64(usualPoints-1)
	}
	for i, pH := range c.At(volumes) {
		a.Points = append(a.Points, Point{volumes[i], pH})
	}
	a.Verdicts = c.judge(a.Equivalences)
	if r.unknown() { // nothing is predicted of what is not known
		a = Answer{Points: []Point{}, Equivalences: []Equivalence{}, Verdicts: []verdict.Verdict{}}
	}
	d := Design{
		Title: r.Title(), Flask: r.sayFlask(), Burette: r.sayBurette(), Prospect: r.prospect(), Curve: a, Verdicts: []verdict.Verdict{},
	}
	for i, e := range a.Equivalences {
		if i > 0 {
			d.Expected += ", "
		}
		d.Expected += quantity.Digits(e.Volume, 1)
	}
	d.Expected += " mL"
	if r.unknown() {
		d.Expected = ""
	}
	return d, nil
}

// called is a name for the middle of a sentence; a formula stays as it is.
func called(s buffer.Stock) string {
	if s.Name == s.Formula {
		return s.Name
	}
	return run.LowerFirst(s.Name)
}

func (r Request) sayFlask() string {
	text := quantity.Digits(r.Volume, -1) + " mL of " + called(r.Flask)
	if r.Flask.Number > 0 {
		text += fmt.Sprintf(", bottle %d", r.Flask.Number)
	}
	if r.Sample.Kind == glassware.OneMarkPipette {
		text += ", by pipette"
	} else {
		text += ", by cylinder"
	}
	if r.Water > 0 {
		text += ", and " + quantity.Digits(r.Water, -1) + " mL of water"
	}
	if r.Protonate != nil {
		text += ", and acid to its fully protonated form"
	}
	return text
}

func (r Request) sayBurette() string {
	text := fmt.Sprintf("%s, %s mol/L", called(r.Burette), quantity.Digits(r.Burette.Concentration.Value, 4))
	if r.Burette.Number > 0 {
		text += fmt.Sprintf(", bottle %d", r.Burette.Number)
	}
	return text + r.sayDevice()
}

// beyond is how far a curve goes past its last equivalence, as a part of the way there.
const beyond = 1.3

// needs is about how much of the titrant the whole curve takes, in mL; 0 where nobody says how strong the
// sample is.
func (r Request) needs() float64 {
	list := r.curve().Equivalences()
	if r.unknown() || len(list) == 0 {
		return 0
	}
	return beyond * list[len(list)-1]
}

// The bottles that a curve takes from.
const (
	RoleFlask   = "flask"
	RoleBurette = "burette"
	RoleAcid    = "acid"
)

// Uses implements [run.Plan]. What is in the flask is sought: the curve does not depend on what
// its bottle says.
func (r Request) Uses() run.Uses {
	var uses run.Uses
	if r.Flask.Bottle != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleFlask, Bottle: r.Flask.Bottle, Needs: r.Volume})
	}
	if r.Burette.Bottle != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleBurette, Bottle: r.Burette.Bottle, Needs: r.needs()})
	}
	if r.Protonate != nil && r.Protonate.Acid.Bottle != "" {
		uses.Sources = append(uses.Sources, run.Source{Role: RoleAcid, Bottle: r.Protonate.Acid.Bottle})
	}
	r.Tip.Uses(&uses)
	r.Probe.Uses(&uses)
	return uses
}

// From implements [run.Sourced]: the titrant is what its bottle holds, the calibration what its
// run gives now.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	switch role {
	case calibration.RoleProbe:
		probe, changed := r.Probe.From(source)
		r.Probe = probe
		return r, changed
	case droptip.RoleTip:
		tip, changed := r.Tip.From(source)
		r.Tip = tip
		return r, changed
	case RoleAcid:
		with := *r.Protonate
		s, changed := (&with.Acid).Follow(source)
		with.Acid = *s
		r.Protonate = &with
		return r, changed
	case RoleBurette:
		s, changed := (&r.Burette).Follow(source)
		r.Burette = *s
		return r, changed
	}
	return r, false
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	switch role {
	case RoleFlask:
		r.Flask = *(&r.Flask).Bound(source, number)
	case droptip.RoleTip:
		r.Tip = r.Tip.Bound(source, number)
	case RoleAcid:
		with := *r.Protonate
		with.Acid = *(&with.Acid).Bound(source, number)
		r.Protonate = &with
	case RoleBurette:
		r.Burette = *(&r.Burette).Bound(source, number)
	case calibration.RoleProbe:
		r.Probe = r.Probe.Bound(source, number)
	}
	return r
}
