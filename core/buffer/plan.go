package buffer

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/calibration"
	"vialbench/core/equilibrium"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/substance"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Kind names this kind of work.
const Kind = "buffer"

var _ run.Sourced = Request{}

// Lab is what the lab owns and how it works.
type Lab struct {
	Balance    weighing.Balance   `json:"balance"`
	Glass      []glassware.Item   `json:"glass,omitempty"`
	FlaskClass glassware.Class    `json:"flaskClass"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Request is a buffer, or a row of them, as it is planned.
type Request struct {
	Recipe
	// Row are further values of pH, of tubes made from the same two stocks.
	Row []float64 `json:"row,omitempty"`
	// Mixes are the volumes of a row that is stated by them: Target and Row are what they come to.
	Mixes []Mix `json:"mixes,omitempty"`
	// StrongAcid and StrongBase, in mol/L, are what it is brought to its pH with; or what stands
	// on the shelf.
	StrongAcid float64 `json:"strongAcid"`
	StrongBase float64 `json:"strongBase"`
	AcidStock  *Stock  `json:"acidStock,omitempty"`
	BaseStock  *Stock  `json:"baseStock,omitempty"`
	// Probe is the meter with the calibration that holds; nil when none was calibrated.
	Probe *calibration.Probe `json:"probe,omitempty"`
	Lab
}

// MaxRow is how many buffers a row has at most.
const MaxRow = 12

// usualStrong is what acid and base at the bench have, in mol/L (common practice).
const usualStrong = 1.0

// request reads what is asked for, before a system is chosen.
func (q Question) request() (Request, error) {
	r := Request{Lab: q.Lab, StrongAcid: cmp.Or(q.StrongAcid, usualStrong), StrongBase: cmp.Or(q.StrongBase, usualStrong)}
	r.Target, r.Celsius, r.MadeAt, r.Strength = q.Target, q.Celsius, q.Celsius, q.Strength
	r.Row = slices.Clone(q.Targets)
	if q.MadeAt != nil {
		r.MadeAt = *q.MadeAt
	}
	r.Basis = int(q.Thresholds.Of(RuleBasis))
	if q.Basis != nil {
		r.Basis = *q.Basis
	}
	p := equilibrium.CheckSystems(q.Systems)
	for i, s := range q.Substances {
		if err := s.Check(); err != nil {
			p.Add(fmt.Sprintf("/substances/%d", i), "%s", err)
		}
	}
	q.reagents(&r, &p)
	q.amounts(&r, &p)
	q.mixes(&r, &p)
	if r.FlaskClass == "" {
		r.FlaskClass = glassware.ClassA
	}
	if r.Balance.Name == "" {
		r.Balance = weighing.Usual()
	}
	if len(p) > 0 {
		return r, p
	}
	r.System.Name, r.System.Acid, r.System.Constants = "to be chosen", "HF", nil
	if err := r.check(); err != nil {
		for _, x := range err.(verdict.Problems) { //nolint:errcheck,errorlint // made here
			if !strings.HasPrefix(x.Field, "/system") {
				p = append(p, x)
			}
		}
	}
	if n := len(r.Row); n >= MaxRow {
		p.Add("/targets", "a row has at most %d buffers", MaxRow)
	}
	if err := r.Balance.Check(); err != nil {
		p.Add("/balance", "%s", err)
	}
	if len(p) > 0 {
		return r, p
	}
	if r.byVolume() {
		return r, nil
	}
	flask, err := r.flask()
	if err != nil {
		p.Add("/volume", "%s", err)
		return r, p
	}
	r.Volume = flask.Volume
	if r.Strength > 0 {
		r.Salt = q.salt()
	}
	return r, nil
}

// amounts reads how strong it is to be, and how much of it.
func (q Question) amounts(r *Request, p *verdict.Problems) {
	concentration, err := q.Concentration.Read(quantity.AmountConcentration)
	switch {
	case err != nil:
		p.Add("/concentration", "%s", err)
	case concentration.Unit.Dimension != quantity.AmountConcentration:
		p.Add("/concentration", "the concentration of a buffer is an amount in a volume, like 0.1 mol/L")
	default:
		r.Concentration = concentration.In("mol/L")
	}
	volume, err := q.Volume.Read(quantity.Volume)
	switch {
	case err != nil:
		p.Add("/volume", "%s", err)
	case volume.Unit.Dimension != quantity.Volume:
		p.Add("/volume", "the volume is like 250 mL")
	default:
		r.Volume = volume.In("mL")
	}
}

// salt is the inert salt that sets the ionic strength: sodium chloride, or else potassium
// chloride.
func (q Question) salt() *Ingredient {
	for _, key := range []string{"sodium-chloride", "potassium-chloride"} {
		for _, s := range append(substance.Library(), q.Substances...) {
			if s.Key == key {
				return &Ingredient{Substance: s}
			}
		}
	}
	return nil
}

// row checks that every pH of a row can be made of what was chosen, and that no salt would have to
// be taken out again.
func (r Request) row() error {
	if r.byVolume() {
		return nil
	}
	var p verdict.Problems
	if r.Salt != nil {
		bare := r.Recipe
		bare.Salt = nil
		if c, err := bare.compose(r.Target); err == nil {
			if s, _ := r.solved(c, r.Celsius); s.Solve().Strength > r.Strength*(1+strengthLimits) {
				p.Add("/strength", "the buffer alone has an ionic strength of %s mol/L: ask for at least that, or leave the salt out",
					quantity.Digits(s.Solve().Strength, 3))
			}
		}
	}
	for i, pH := range r.Row {
		if !(pH >= 0 && pH <= 14) {
			p.Add(fmt.Sprintf("/targets/%d", i), "the pH wanted is from 0 to 14")
		} else if _, err := r.compose(pH); err != nil {
			p.Add(fmt.Sprintf("/targets/%d", i), "%s", err)
		}
	}
	return p.OrNil()
}

// strengthLimits is how far below the buffer's own an ionic strength may be asked for, as a part of
// it: nobody makes it to better than that.
const strengthLimits = 0.01

// Decode reads a request that was kept.
func Decode(text json.RawMessage) (run.Plan, error) {
	var r Request
	err := json.Unmarshal(text, &r)
	return r, err
}

// targets are all values of pH, one for each tube.
func (r Request) targets() []float64 { return append([]float64{r.Target}, r.Row...) }

// name says what the buffer is: “Phosphate buffer”, “HEPES buffer”.
func (r Request) name() string { return run.UpperFirst(r.System.Common()) + " buffer" }

// Title names the buffer.
func (r Request) Title() string {
	title := fmt.Sprintf("%s, %s mol/L, pH %s", r.name(), r.strengthOf(Composition{Total: r.Concentration}), quantity.Digits(r.Target, 2))
	if n := len(r.Row); n > 0 {
		title += fmt.Sprintf(" and %d more", n)
	}
	return title
}

// Design implements [run.Plan].
func (r Request) Design() (any, error) { return r.design() }

// The sources that a buffer is made from, and brought to its pH with.
const (
	RoleAcid       = "acid"
	RoleBase       = "base"
	RoleAdjustAcid = "adjusting acid"
	RoleAdjustBase = "adjusting base"
)

// Uses implements [run.Plan].
func (r Request) Uses() run.Uses {
	uses := run.Uses{}
	if !r.Acid.Liquid() || !r.Base.Liquid() || r.Salt != nil {
		uses.Instruments = append(uses.Instruments, r.Balance.Name)
	}
	for role, i := range map[string]Ingredient{RoleAcid: r.Acid, RoleBase: r.Base} {
		if i.Bottle != "" {
			uses.Sources = append(uses.Sources, run.Source{Role: role, Bottle: i.Bottle})
		}
	}
	for role, s := range map[string]*Stock{RoleAdjustAcid: r.AcidStock, RoleAdjustBase: r.BaseStock} {
		if s != nil {
			uses.Sources = append(uses.Sources, run.Source{Role: role, Bottle: s.Bottle})
		}
	}
	slices.SortFunc(uses.Sources, func(a, b run.Source) int { return strings.Compare(a.Role, b.Role) })
	r.Probe.Uses(&uses)
	return uses
}

// From implements [run.Sourced]: a stock is what its bottle holds, the calibration what its
// run gives now.
func (r Request) From(role string, source run.Product) (run.Plan, bool) {
	switch role {
	case calibration.RoleProbe:
		probe, changed := r.Probe.From(source)
		r.Probe = probe
		return r, changed
	case RoleAdjustAcid:
		s, changed := r.AcidStock.Follow(source)
		r.AcidStock = s
		return r, changed
	case RoleAdjustBase:
		s, changed := r.BaseStock.Follow(source)
		r.BaseStock = s
		return r, changed
	case RoleAcid, RoleBase:
		c, ok := source.Molar()
		if !ok {
			return r, false
		}
		i := &r.Acid
		if role == RoleBase {
			i = &r.Base
		}
		before := i.Stock
		i.Stock = c
		if now, err := r.mixed(); err == nil {
			r = now
		}
		return r, before.Value != c.Value || before.U() != c.U()
	}
	return r, false
}

// StockOf is what stands on the shelf as a stock for a buffer; ok is false when it is no
// single acid, base or salt with an amount concentration. own are systems of the lab's own.
func StockOf(p run.Product, bottle string, number int64, left float64, own ...equilibrium.System) (s Stock, ok bool) {
	c, ok := p.Molar()
	if !ok || p.Solute() == "" {
		return s, false
	}
	s = Stock{Name: p.Name, Formula: p.Solute(), Concentration: c, Bottle: bottle, Number: number, Left: left, Hazards: p.Hazards}
	if len(p.Ingredients) == 1 {
		s.Key = p.Ingredients[0].Key
	}
	_, ok = s.ingredient().with(own).Compound()
	return s, ok
}

// Bound implements [run.Sourced].
func (r Request) Bound(role string, source run.Source, number int64) run.Plan {
	switch role {
	case RoleAcid:
		r.Acid.Bottle, r.Acid.Number = source.Bottle, number
	case RoleBase:
		r.Base.Bottle, r.Base.Number = source.Bottle, number
	case RoleAdjustAcid:
		r.AcidStock = r.AcidStock.Bound(source, number)
	case RoleAdjustBase:
		r.BaseStock = r.BaseStock.Bound(source, number)
	case calibration.RoleProbe:
		r.Probe = r.Probe.Bound(source, number)
	}
	return r
}

// celsiusLimits is how well the temperature of a buffer is known, ± °C (common practice).
const celsiusLimits = 1.0

// temperature is one in °C as it enters a computation.
func temperature(celsius float64) uncertain.Number {
	return uncertain.WithLimits(celsius, celsiusLimits, uncertain.RectangularShape, uncertain.Source{
		ID: "buffer temperature", Label: "temperature", Basis: "±1 °C, rectangular",
	})
}
