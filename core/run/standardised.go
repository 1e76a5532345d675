package run

import (
	"fmt"
	"time"

	"vialbench/core/figure"
	"vialbench/core/uncertain"
	"vialbench/core/working"
)

// RoleStandardises is the role of a bottle whose concentration a run finds: the run depends on
// nothing that the bottle says of itself, and the bottle on the result of the run.
const RoleStandardises = "standardises"

// Standardisation is the Detail of a result that finds the concentration of a bottle.
type Standardisation struct {
	Bottle string
	C      uncertain.Number // mol/L
	At     time.Time        // when enough trials were done
}

// Standardised is what a bottle says of its last standardisation.
type Standardised struct {
	Run    string    `json:"run"`
	Number int64     `json:"number"`
	At     time.Time `json:"at"`
	// Made is the concentration that it was made as.
	Made figure.Figure `json:"made"`
}

// Standardise is the product with the concentration that a standardisation found: it stands for
// itself from then on. The day to standardise again follows after as many days as it had from
// its making; none when it had none. Other concentrations of the same solute move with it, and
// so do the amount and the mass in the volume that it was made to.
func (p Product) Standardise(c uncertain.Number, by Standardised, made time.Time) Product {
	was, ok := p.Molar()
	if !ok {
		return p
	}
	volume, known := p.Figure(figure.Volume)
	figures := make([]figure.Figure, 0, len(p.Figures))
	for _, f := range p.Figures {
		if f.Role == figure.Concentration && by.Made.ID == "" {
			by.Made = f
		}
		n := c.Scale(f.Value / was.Value)
		switch {
		case perVolume(f.Role):
			f = figure.New(f.ID, f.Label, f.Unit, n).As(f.Role)
		case known && (f.Role == figure.Amount || f.Role == figure.Mass):
			f = figure.New(f.ID, f.Label, f.Unit, n.Times(volume.Scale(1/volume.Value))).As(f.Role)
		}
		figures = append(figures, f)
	}
	p.Figures, p.Exact, p.Standardised = figures, true, &by
	if day, err := time.Parse(time.DateOnly, p.StandardiseBy); err == nil {
		days := int(day.Sub(made).Hours()/24 + 0.5)
		p.StandardiseBy = by.At.AddDate(0, 0, days).Format(time.DateOnly)
	}
	return p
}

// Follows shows how another figure of a standardised product follows from the concentration that
// was found:
//
//	x = x₀ · c/c₀
//
// with x₀ and c₀ as it was made. ok is false of the concentration itself, of the volume, and of a
// product that was not standardised.
func (p Product) Follows(f figure.Figure) (lines []working.Line, ok bool) {
	c, is := p.Figure(figure.Concentration)
	if p.Standardised == nil || !is || f.ID == c.ID || f.Role == figure.Volume {
		return nil, false
	}
	made := p.Standardised.Made
	was := f.Value * made.Value / c.Value
	l := working.Line{
		Title: UpperFirst(f.Label), Symbol: "x", Formula: `x = x_0\,\frac{c}{c_0}`,
		Substituted: fmt.Sprintf(`x = %.6g%s \times \frac{%s}{%s}`, was, working.Unit(f.Unit), working.Value(c.Number, c.Unit),
			fmt.Sprintf("%.6g", made.Value)+working.Unit(made.Unit)),
		Result: working.Result(f.Number, f.Unit), From: []string{"c: as it was found; x and c with index 0: as it was made"},
	}
	return append([]working.Line{l}, working.Uncertainty(f.Number, f.Unit)...), true
}
