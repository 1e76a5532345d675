package buffer

import (
	"fmt"
	"math"

	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Mix is a tube of a row that is stated by volumes: mL of both stocks, without a mark.
type Mix struct {
	Acid float64 `json:"acid"`
	Base float64 `json:"base"`
}

// The least and the most of a stock that a tube of a row takes, in mL.
const leastMixed, mostMixed = 0.05, 1000

// byVolume reports whether a row is stated by what is mixed: its pH follows.
func (r Request) byVolume() bool { return len(r.Mixes) > 0 }

// inRow reports whether tubes are made of two stocks, as they are, and not brought to a pH.
func (r Request) inRow() bool { return len(r.Row) > 0 || r.byVolume() }

// mixes reads the volumes of a row.
func (q Question) mixes(r *Request, p *verdict.Problems) {
	if len(q.Mixes) > MaxRow {
		p.Add("/mixes", "a row has at most %d buffers", MaxRow)
	}
	if len(q.Mixes) > 0 && len(q.Targets) > 0 {
		p.Add("/mixes", "a row is stated by its pH or by volumes: leave one of them empty")
	}
	if len(q.Mixes) > 0 && q.Strength > 0 {
		p.Add("/strength", "a row by volumes takes the two stocks alone: leave the ionic strength empty")
	}
	if r.Mixes = q.Mixes; len(q.Mixes) > 0 {
		r.Volume = 0 // the largest of them
	}
	for i, m := range q.Mixes {
		if !(math.Min(m.Acid, m.Base) >= leastMixed && math.Max(m.Acid, m.Base) <= mostMixed) {
			p.Add(fmt.Sprintf("/mixes/%d", i), "tube %d: of both stocks %g mL to %d mL, like 5+1; one alone is no buffer", i+1, leastMixed, mostMixed)
		}
		r.Volume = math.Max(r.Volume, m.Acid+m.Base)
	}
}

// composition is what a litre of a tube is made of.
func (r Request) composition(tubeAt int) (Composition, error) {
	if !r.byVolume() {
		return r.compose(r.targets()[tubeAt])
	}
	m := r.Mixes[tubeAt]
	b, err := r.blend(r.Celsius)
	if err != nil {
		return Composition{}, err
	}
	c := Composition{mL: m.Acid + m.Base}
	c.Acid, c.Base = r.Acid.Molarity().Value*m.Acid/c.mL, r.Base.Molarity().Value*m.Base/c.mL
	c.Total = c.Acid*b.unitsA + c.Base*b.unitsB
	return c, nil
}

// mixed is a row by volumes with the pH that its tubes come to, and the concentration of the first:
// both follow from the stocks as they are.
func (r Request) mixed() (Request, error) {
	if !r.byVolume() {
		return r, nil
	}
	var pH []float64
	for i := range r.Mixes {
		c, err := r.composition(i)
		if err != nil {
			return r, err
		}
		b, err := r.blend(r.Celsius)
		if err != nil {
			return r, err
		}
		pH = append(pH, b.at(c).PH)
		if i == 0 {
			r.Concentration = c.Total
		}
	}
	r.Target, r.Row = pH[0], pH[1:]
	return r, nil
}

// volume is how much a composition makes, in mL.
func (r Request) volume(c Composition) float64 {
	if c.mL > 0 {
		return c.mL
	}
	return r.Volume
}

// sum of what is mixed, in mL.
func sum(taken []uncertain.Number) (v uncertain.Number) {
	for _, n := range taken {
		v = v.Plus(n)
	}
	return v
}

// strengthOf says how strong a tube is: that of its row, or what its own volumes give.
func (r Request) strengthOf(c Composition) string {
	if r.byVolume() {
		return trim(quantity.Significant(c.Total, 3))
	}
	return trim(r.Concentration)
}
