package capacity

import (
	"math"
	"slices"
	"strconv"

	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

// Row is one reading of a beaker.
type Row struct {
	Added string  `json:"added"` // mL in all, as text
	ML    float64 `json:"mL"`
	PH    string  `json:"pH"`
	Value float64 `json:"value"`
	// Beta of the step that led here, mmol/L per pH, empty of the first; Theory is the pH by
	// theory.
	Beta   string  `json:"beta"`
	Theory string  `json:"theory"`
	Middle float64 `json:"middle"` // pH half way
	B      float64 `json:"b"`      // β, mol/L; 0 when it tells nothing
	UB     float64 `json:"uB"`     // U of it, k = 2
	// Celsius it was read at, and the colour of the indicator by theory there, in words and as
	// it looks; empty of beakers that stay as warm as the room.
	Celsius string `json:"celsius"`
	Colour  string `json:"colour"`
	Shade   string `json:"shade"`
	// Portion and Fact are the IDs of what was added and of what was read then; Portion is empty of the
	// first.
	Portion string `json:"portion"`
	Fact    string `json:"fact"`
}

// ViewBeaker is one beaker as it stands.
type ViewBeaker struct {
	Beaker
	Rows  []Row `json:"rows"`
	Curve Curve `json:"curve"`
	Done  bool  `json:"done"`
	// Seen is the colour that was seen in the bath.
	Seen string `json:"seen"`
}

// View is what the drawing of a run needs.
type View struct {
	Kind     string            `json:"kind"`
	Name     string            `json:"name"`
	Beakers  []ViewBeaker      `json:"beakers"`
	AtHand   int               `json:"atHand"` // the beaker; -1 when none is
	Verdicts []verdict.Verdict `json:"verdicts"`
}

func (a *account) outcome() run.Outcome {
	out := run.Outcome{Exact: true, Readings: a.reads, Drawn: a.drawn()}
	view := View{Kind: Kind, Name: a.Name, AtHand: -1, Beakers: []ViewBeaker{}, Verdicts: a.judge()}
	ended := true
	for i := range a.beakers {
		b := &a.beakers[i]
		view.Beakers = append(view.Beakers, a.viewOf(b))
		if !a.finished(b) {
			ended = false
			if view.AtHand < 0 && a.poured {
				view.AtHand = i
			}
			out.Offers = append(out.Offers, run.Offer{Choice: verdict.Choice{ID: choiceDone, Label: "Done with " + b.Name}, Part: i})
		}
	}
	out.Figures, out.Table = a.figures(), table(view)
	if ended {
		out.Products = []run.Product{{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Name, Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.reads,
		}}
	}
	out.View = view
	out.Place(a.steps(), &a.notes, a.reason, a.done)
	return out
}

func (a *account) viewOf(b *beaker) ViewBeaker {
	v := ViewBeaker{Beaker: b.Beaker, Done: a.finished(b), Rows: []Row{}}
	v.C = b.v.C.Value
	switch {
	case b.Kind == Diluted:
		v.Curve = a.curve(b.v, math.Max(2*a.Dilution, 1.2*b.added.Value))
	case b.v.C.Value > 0:
		v.Curve = a.curve(b.v, math.Max(curvePortions*a.Portion, 1.2*b.added.Value))
	}
	if b.seen >= 0 && a.Indicator != nil {
		v.Seen = a.Indicator.Words[b.seen]
	}
	theory, steps := a.theory(b), b.v.Steps(a.Thresholds)
	for i, p := range b.v.Points {
		text, _ := quantity.Round(p.PH.Value, p.PH.Expanded())
		row := Row{
			Added:   quantity.Digits(p.Added.Value, 2),
			ML:      p.Added.Value,
			PH:      text,
			Value:   p.PH.Value,
			Theory:  quantity.Digits(theory[i], 2),
			Portion: b.portions[i],
			Fact:    p.ID,
		}
		if b.Kind == InBath {
			row.Celsius = quantity.Digits(b.celsius[i], 1)
			if a.Indicator != nil {
				row.Colour, row.Shade = a.Indicator.Colour(theory[i]), a.Indicator.Colours[a.Indicator.Shade(theory[i])]
			}
		}
		if i > 0 {
			if s := steps[i-1]; !s.Wrong && s.Beta.Value > 0 && b.v.C.Value > 0 {
				beta, u := quantity.Round(1000*s.Beta.Value, 1000*s.Beta.Expanded())
				row.Beta, row.Middle, row.B, row.UB = beta+" ± "+u, s.PH, s.Beta.Value, s.Beta.Expanded()
				if s.Small {
					row.B, row.UB = 0, 0
				}
			}
		}
		v.Rows = append(v.Rows, row)
	}
	return v
}

// judge gives the verdicts on the beakers together.
func (a *account) judge() []verdict.Verdict {
	list := []verdict.Verdict{}
	if f, ok := FitBuffer(a.buffers()); ok {
		list = append(list, a.judgeFit(f))
	}
	for i := range a.beakers {
		list = append(list, a.judgeMoved(&a.beakers[i])...)
	}
	for _, w := range a.beakers {
		for _, b := range a.beakers {
			if !w.Water || b.Water || w.Acid != b.Acid || len(w.v.Points) < 2 || len(b.v.Points) < 2 {
				continue
			}
			list = append(list, RuleWater.Says(verdict.Fine, nil, "The water has moved by %s pH with %s mL, the buffer by %s with %s mL.",
				quantity.Digits(moved(w), 1), quantity.Digits(w.added.Value, 2), quantity.Digits(moved(b), 2), quantity.Digits(b.added.Value, 2)))
		}
	}
	return list
}

func moved(b beaker) float64 {
	return math.Abs(b.v.Points[len(b.v.Points)-1].PH.Value - b.v.Points[0].PH.Value)
}

// figures are the results of the test.
func (a *account) figures() []figure.Figure {
	var list []figure.Figure
	for i, b := range a.beakers {
		id := strconv.Itoa(i)
		if moved, ok := a.moved(&b); ok {
			list = append(list, figure.New("moved "+id, "change of the pH, "+b.Name, "", moved))
		}
		if b.Water || len(b.v.Points) < 2 || !(b.v.C.Value > 0) {
			continue
		}
		way := map[bool]string{true: "one pH down", false: "one pH up"}[b.Acid]
		if a.Drink != "" && b.Acid {
			list = append(list, figure.New("titrant", "strength of "+a.Drink+" as an acid", "mol/L", b.v.C))
		}
		if s := b.v.Steps(a.Thresholds)[0]; !s.Wrong && !s.Small {
			list = append(
				list,
				figure.New("beta "+id, "capacity per pH, at pH "+quantity.Digits(s.PH, 2)+", "+b.Name, "mol/L", s.Beta).As(figure.Capacity),
			)
		}
		if c, ok := b.v.ToOne(); ok {
			list = append(list, figure.New("to-one "+id, "to move it "+way, "mol/L", c).As(figure.Capacity))
		}
	}
	if f, ok := FitBuffer(a.buffers()); ok {
		list = append(list, figure.New("strength", "strength found, beside the label’s", "", f.Strength))
	}
	return list
}

func table(v View) [][]string {
	list := [][]string{{"beaker", "added mL", "pH", "pH by theory", "β, mmol/L per pH, ± U (k = 2)"}}
	warmed := slices.ContainsFunc(v.Beakers, func(b ViewBeaker) bool { return b.Kind == InBath })
	if warmed {
		list[0] = append(list[0], "°C", "colour by theory", "colour seen")
	}
	for _, b := range v.Beakers {
		for i, r := range b.Rows {
			line := []string{b.Name, r.Added, r.PH, r.Theory, r.Beta}
			if warmed {
				line = append(line, r.Celsius, r.Colour, "")
				if i > 0 {
					line[len(line)-1] = b.Seen
				}
			}
			list = append(list, line)
		}
	}
	return list
}
