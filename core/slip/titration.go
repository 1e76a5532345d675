package slip

import (
	"slices"
	"strconv"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Trial is one titration: where the burette stood, in mL, or how many Drops fell.
type Trial struct {
	Start float64 `json:"start"`
	End   float64 `json:"end"`
	Drops int     `json:"drops,omitempty"`
	// Sample is what was weighed for it, g; 0 of an aliquot.
	Sample float64 `json:"sample,omitempty"`
	// Rough reports whether it was left out of the mean.
	Rough bool `json:"rough,omitempty"`
}

// Weighing is a solid whose samples are weighed.
type Weighing struct {
	MolarMass float64 `json:"molarMass"` // g/mol
	// Hydrates and Ions are molar masses that can be taken by mistake, by what they are of.
	Hydrates map[string]float64 `json:"hydrates,omitempty"`
	Ions     map[string]float64 `json:"ions,omitempty"`
	Purity   float64            `json:"purity,omitempty"` // mass fraction; 0 for 1
}

// amountOf is n = m·p/M of a mass.
func (w Weighing) amountOf(mass Step) Step {
	m := figureOf("the molar mass", Constant, w.MolarMass, "g/mol")
	m.Instead = append(namedMasses("hydrate", w.Hydrates), namedMasses("metal for salt", w.Ions)...)
	amount := step("the amount", Over, ToAmount, mass, m)
	if w.Purity > 0 && w.Purity != 1 {
		amount = step("the amount of the substance", Times, "", amount, figureOf("the purity", Purity, w.Purity, ""))
	}
	return amount
}

// Excess is what was added beforehand in a back titration, whose rest is titrated.
type Excess struct {
	Reagent Bottled `json:"reagent"`
	Aliquot Glass   `json:"aliquot"`
	// Ratio is the moles of what is sought for each mole of the reagent.
	Ratio float64 `json:"ratio"`
}

// Titration is a concentration found by titration, c = c_t·V·r/V_s, times the dilution factors; of a titrant that is
// standardised, c = c_s·V_s·r/V or, by weighed samples, c = m·p·r/(M·V); by what an excess leaves,
// c = (c_R·V_R − c_t·V·r)·r_R/V_s:
//
//	V the mean titre less that of a blank, or drops times the volume of one
//	r the moles of what is sought, or of the reagent in excess, for each mole of what is known
type Titration struct {
	// Titrant is what is known: in the burette or, of one that is standardised, in the pipette.
	Titrant  Bottled `json:"titrant"`
	Trials   []Trial `json:"trials"`
	Burette  float64 `json:"burette,omitempty"` // mL that it holds; 0 where that is not known
	Division float64 `json:"division,omitempty"`
	DropML   float64 `json:"dropML,omitempty"` // of one that is counted
	Blank    float64 `json:"blank,omitempty"`  // mL that a flask without a sample takes
	// Points are volumes of a curve that can be taken for its end point, in mL: half of it, or another one.
	Points  []float64 `json:"points,omitempty"`
	Aliquot Glass     `json:"aliquot"`
	// Weighed is what is weighed for a titrant that is standardised; nil of aliquots.
	Weighed  *Weighing   `json:"weighed,omitempty"`
	Excess   *Excess     `json:"excess,omitempty"` // nil of a direct titration
	Ratio    float64     `json:"ratio"`
	Electron float64     `json:"electrons,omitempty"` // what counting electrons would put for it
	Diluted  []Dilution1 `json:"diluted,omitempty"`
	// Standardises reports whether the burette holds what is sought.
	Standardises bool `json:"standardises,omitempty"`
	// MolarMass of what is sought, g/mol; 0 where it is not told.
	MolarMass float64 `json:"molarMass,omitempty"`
	// Solid is what was made up to a flask, of which the aliquots were taken: its part by mass is sought then, in %. Nil else.
	Solid *Solid `json:"solid,omitempty"`
}

// Solid is a solid of which so much was weighed and made up to a flask. What is sought in it has a molar mass, with so many Units of what
// is titrated.
type Solid struct {
	Mass      float64 `json:"mass"` // g
	Flask     Glass   `json:"flask"`
	MolarMass float64 `json:"molarMass"`       // g/mol
	Units     float64 `json:"units,omitempty"` // 0 for 1
}

// share is w = 100·c·V·M/(u·m) in %, by the concentration in the flask.
func (s Solid) share(c Step, aliquot float64) Step {
	c.Name = "the concentration in the flask"
	flask := s.Flask.step("the flask", Mark)
	if aliquot > 0 {
		flask.Instead = append(flask.Instead, Instead{"aliquot for flask", "", aliquot})
	}
	of := []Step{c, litres(flask), figureOf("the molar mass", Constant, s.MolarMass, "g/mol")}
	if s.Units > 0 && s.Units != 1 {
		of = append(of, figureOf("the mole ratio of what is sought and titrated", MoleRatio, 1/s.Units, ""))
	}
	found := step("the mass found in the flask", Times, "", of...)
	part := step("the part by mass", Over, "", found, figureOf("the mass of the solid", Weighed, s.Mass, "g"))
	return Step{Name: result, Op: Scale, Factor: 100, Of: []Step{part}}
}

// Root is how it is worked out.
func (t Titration) Root() Step {
	if t.Weighed != nil {
		return t.byWeighing().withMass(t.MolarMass)
	}
	mean := t.mean("the mean titre", t.titre)
	mean.Repeats = repeats
	for _, v := range t.Points {
		mean.Instead = append(mean.Instead, Instead{"another point", quantity.Digits(v, 2) + " mL", v})
	}
	known, sought := litres(t.net(mean)), litres(t.Aliquot.step("the aliquot titrated", Aliquot))
	if t.Standardises {
		known, sought = sought, known
	}
	amount := step("the amount of what is sought", Times, "", t.Titrant.step(), known, t.ratio())
	if t.Excess != nil {
		amount = t.Excess.less(amount)
	}
	root := step(result, Over, "", amount, sought)
	if len(t.Diluted) > 0 {
		root.Name = "the concentration in the flask"
		of := []Step{root}
		for i, d := range t.Diluted {
			of = append(of, d.factor(i))
		}
		root = step(result, Times, "", of...)
	}
	if t.Solid != nil {
		return t.Solid.share(root, t.Aliquot.ML)
	}
	return root.withMass(t.MolarMass)
}

// less is the amount of what is sought that took so much of the excess as is not left.
func (e Excess) less(left Step) Step {
	left.Name = "the amount of the reagent left"
	pipetted := litres(e.Aliquot.step("the pipette of the reagent", Aliquot))
	added := step("the amount of the reagent added", Times, "", e.Reagent.step(), pipetted)
	used := step("the amount of the reagent used", Minus, Used, added, left)
	return step("the amount of what is sought", Times, "", used, figureOf("the mole ratio of sample and reagent", MoleRatio, e.Ratio, ""))
}

// byWeighing is what each weighed sample gives for the titrant, with what is the same in all of them last: a slip in that is made in
// all of them.
func (t Titration) byWeighing() Step {
	mean := t.mean("the mass for each mL", func(i int, trial Trial) Step {
		n := strconv.Itoa(i + 1)
		mass := figureOf("the mass of trial "+n, Weighed, trial.Sample, "g")
		return step("the mass for each mL of trial "+n, Over, "", mass, t.net(t.titre(i, trial)))
	})
	// Trials agree as far as their titres do.
	titres := t.mean("", t.titre)
	mean.Repeats = repeats * layOut(&mean).result() / layOut(&titres).result()
	amount := step("the amount for each mL", Times, "", t.Weighed.amountOf(mean), t.ratio())
	return step(result, Over, "", amount, litres(figureOf("one mL", "", 1, "mL")))
}

// mean is that of something of each trial, of those that count.
func (t Titration) mean(name string, of func(int, Trial) Step) Step {
	mean := Step{Name: name, Op: Mean, Role: Trials}
	for i, trial := range t.Trials {
		mean.Of, mean.Counted = append(mean.Of, of(i, trial)), append(mean.Counted, !trial.Rough)
	}
	return mean
}

func (t Titration) titre(i int, trial Trial) Step {
	n := strconv.Itoa(i + 1)
	if t.DropML > 0 {
		drops := figureOf("the drops of trial "+n, Drops, float64(trial.Drops), "")
		return Step{Name: "trial " + n, Op: Scale, Role: Volume, Factor: t.DropML, Of: []Step{drops}}
	}
	end := figureOf("end reading of trial "+n, Reading, trial.End, "mL")
	start := figureOf("start reading of trial "+n, Reading, trial.Start, "mL")
	end.Decimals, start.Decimals = 2, 2
	end.Most, start.Most, end.Division, start.Division = t.Burette, t.Burette, t.Division, t.Division
	return step("trial "+n, Minus, Titre, end, start)
}

// net is a titre less that of a blank.
func (t Titration) net(titre Step) Step {
	if t.Blank == 0 {
		return titre
	}
	return step("the net titre", Minus, Net, titre, figureOf("the titre of the blank", Blank, t.Blank, "mL"))
}

func (t Titration) ratio() Step {
	ratio := figureOf("the mole ratio", MoleRatio, t.Ratio, "")
	if t.Electron > 0 && t.Electron != t.Ratio {
		ratio.Instead = []Instead{{"electrons", "", t.Electron}}
	}
	return ratio
}

func (t Titration) check(p *verdict.Problems) {
	if n := len(t.Trials); n < 1 || n > mostTrials {
		p.Add("/titration/trials", "from 1 to %d trials", mostTrials)
	}
	for i, trial := range t.Trials {
		field := "/titration/trials/" + strconv.Itoa(i)
		if t.DropML > 0 && trial.Drops < 1 {
			p.Add(field+"/drops", "count the drops of each trial")
		}
		if t.Weighed != nil {
			positive(p, field+"/sample", trial.Sample)
		}
	}
	if len(t.Points) > mostPoints {
		p.Add("/titration/points", "at most %d other points of the curve", mostPoints)
	}
	if t.DropML < 0 || t.Blank < 0 {
		p.Add("/titration/blank", "a volume is 0 mL or more")
	}
	positive(p, "/titration/ratio", t.Ratio)
	switch {
	case t.Weighed == nil:
		positive(p, "/titration/titrant/c", t.Titrant.C)
		t.Aliquot.check(p, "/titration/aliquot")
	case !t.Standardises || t.Excess != nil || len(t.Diluted) > 0:
		p.Add("/titration/weighed", "weighed samples are for a titrant that is standardised")
	default:
		positive(p, "/titration/weighed/molarMass", t.Weighed.MolarMass)
	}
	if t.Excess != nil {
		positive(p, "/titration/excess/reagent/c", t.Excess.Reagent.C)
		positive(p, "/titration/excess/ratio", t.Excess.Ratio)
		t.Excess.Aliquot.check(p, "/titration/excess/aliquot")
	}
	if t.Solid != nil {
		positive(p, "/titration/solid/mass", t.Solid.Mass)
		positive(p, "/titration/solid/molarMass", t.Solid.MolarMass)
		t.Solid.Flask.check(p, "/titration/solid/flask")
		if t.Standardises || t.Solid.Units < 0 {
			p.Add("/titration/solid", "a solid is what is sought, not what is standardised")
		}
	}
	checkDiluted(p, "/titration/diluted", t.Diluted)
	if counted := slices.ContainsFunc(t.Trials, func(t Trial) bool { return !t.Rough }); !counted {
		p.Add("/titration/trials", "at least one trial counts")
	}
}
