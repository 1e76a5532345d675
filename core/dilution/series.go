package dilution

import (
	"fmt"
	"math"
	"slices"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

func (q Question) series(a *Answer, p *verdict.Problems) {
	volumes := slices.Clone(q.Volumes)
	field := "/volumes"
	if !(q.Volume > 0) {
		p.Add("/volume", "the volume of each tube is above zero, in mL")
		return
	}
	if q.Spread != nil {
		var wrong verdict.Problems
		if q.Targets, wrong = q.Spread.Targets(); len(wrong) > 0 {
			for _, x := range wrong {
				p.Add("/spread"+x.Field, "%s", x.Reason)
			}
			return
		}
	}
	if len(volumes) == 0 {
		field = "/targets"
		for i, c := range q.Targets {
			if c != 0 && q.aboveStock(c, fmt.Sprintf("/targets/%d", i), p) {
				continue
			}
			volumes = append(volumes, q.Volume*c/q.Stock.Concentration.Value)
		}
	}
	if n := len(volumes); n == 0 || n > MaxRungs {
		p.Add(field, "a series has 1 to %d tubes, and this one would have %d", MaxRungs, n)
	}
	for i, v := range volumes {
		if !(v >= 0) || v > q.Volume*(1+exactly) {
			p.Add(fmt.Sprintf("%s/%d", field, i), "%s mL: between zero and the volume of a tube, %s mL", short(v), short(q.Volume))
		}
	}
	if len(*p) > 0 {
		return
	}
	if q.Weighed && !q.InFlasks {
		p.Add("/inFlasks", "portions that are weighed go into flasks: choose flasks, or measure with burettes")
		return
	}
	if q.InFlasks {
		q.inFlasks(volumes, field, a, p)
		return
	}
	q.fromBurettes(volumes, field, a, p)
}

// fromBurettes makes every tube from two burettes, of stock and of solvent.
func (q Question) fromBurettes(volumes []float64, field string, a *Answer, p *verdict.Problems) {
	stock, solvent := q.burette(slices.Max(volumes)), q.burette(q.Volume-slices.Min(volumes))
	a.Request.OneBurette = q.ownsOneBurette() && slices.Max(volumes) > 0
	for i, v := range volumes {
		q.beyond(stock, v, "stock", fmt.Sprintf("%s/%d", field, i), p)
		q.beyond(solvent, q.Volume-v, "solvent", "/volume", p)
	}
	if len(*p) > 0 {
		return
	}
	for _, v := range volumes {
		v = readable(stock, v)
		rung := Rung{From: FromStock, With: stock, Times: 1, Taken: v, Solvent: q.Volume - v}
		if rung.Solvent > 1e-9 {
			rung.SolventWith = &solvent
		} else {
			rung.Solvent = 0
		}
		a.Request.Rungs = append(a.Request.Rungs, rung)
	}
}

// burette is the smallest burette that lets a volume out in one go, or the largest
// there is.
func (q Question) burette(volume float64) glassware.Item {
	list := best(glassware.OfKind(glassware.Burette, q.Glass))
	i := slices.IndexFunc(list, func(b glassware.Item) bool { return b.Volume >= volume*(1-exactly) })
	if i < 0 {
		i = len(list) - 1
	}
	return list[i]
}

// ownsOneBurette reports whether the lab lists its burettes, and there is only one.
func (q Question) ownsOneBurette() bool {
	pieces := 0
	for _, i := range q.Glass {
		if i.Kind == glassware.Burette {
			pieces += i.Count
		}
	}
	return pieces == 1
}

// beyond notes a volume that a scale does not let out in one go.
func (q Question) beyond(with glassware.Item, volume float64, what, field string, p *verdict.Problems) {
	if readable(with, volume) > with.Volume*(1+exactly) {
		p.Add(
			field,
			"%s mL of %s is more than a %s lets out in one go: make less of each, or choose other volumes",
			quantity.Digits(volume, with.Decimals()),
			what,
			with.Name(),
		)
	}
}

// readable rounds a volume to what the scale can be read to.
func readable(with glassware.Item, volume float64) float64 {
	if with.Division() == 0 {
		return volume
	}
	scale := math.Pow(10, float64(with.Decimals()))
	return math.Round(volume*scale) / scale
}

func (q Question) inFlasks(volumes []float64, field string, a *Answer, p *verdict.Problems) {
	flask, exact, err := glassware.Flasks(q.Glass).For(q.Volume, q.Class)
	if err != nil || !exact {
		p.Add(
			"/volume",
			"there is no flask of %s mL: choose one of %s mL, or tubes with burettes",
			short(q.Volume),
			volumesText(glassware.Flasks(q.Glass).Volumes(q.Class)),
		)
		return
	}
	pipettes := best(glassware.OfKind(glassware.OneMarkPipette, q.Glass))
	for i, v := range volumes {
		rung := Rung{From: FromStock, With: q.burette(v), Times: 1, Taken: v, Flask: &flask}
		if q.Weighed && v > 0 {
			rung.With, rung.Weighed = glassware.Item{}, true
		} else if k := slices.IndexFunc(pipettes, func(i glassware.Item) bool { return math.Abs(i.Volume-v) < 1e-9 }); k >= 0 {
			rung.With = pipettes[k]
		} else if m, err := glassware.MeasureFor(glassware.GraduatedPipette, v, q.Glass); err == nil && v > 0 {
			rung.With = m
		}
		if !rung.Weighed {
			rung.Taken = readable(rung.With, v)
		}
		if rung.With.Division() > 0 {
			q.beyond(rung.With, v, "stock", fmt.Sprintf("%s/%d", field, i), p)
		}
		a.Request.Rungs = append(a.Request.Rungs, rung)
	}
}

func volumesText(volumes []float64) string {
	text := ""
	for i, v := range volumes {
		if i > 0 {
			text += ", "
		}
		text += short(v)
	}
	return text
}
