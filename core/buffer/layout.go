package buffer

import (
	"fmt"
	"math"

	"vialbench/core/equilibrium"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Take is how much is taken of an ingredient.
type Take struct {
	Name   string `json:"name"`
	Amount string `json:"amount"`
	mol    float64
}

// Line is one buffer of a design.
type Line struct {
	Target float64 `json:"target"`
	// Total is its concentration in mol/L.
	Total string `json:"total"`
	Takes []Take `json:"takes"`
	// Figures are its pH, ionic strength and capacity, as planned.
	Figures []figure.Figure `json:"figures"`
	// Made is the pH to make it to, at the temperature of making.
	Made string `json:"made"`
	// Diluted is the pH after dilution by two.
	Diluted string `json:"diluted"`
	mix     Composition
}

// Estimate is that by Henderson and Hasselbalch.
type Estimate struct {
	// Ratio of base to acid, and the pH that its recipe would have by the full balance.
	Ratio   string       `json:"ratio"`
	PH      string       `json:"pH"`
	Reasons []string     `json:"reasons"`
	Line    working.Line `json:"line"`
}

// Landscape is buffer capacity and species against pH.
type Landscape struct {
	PH   figure.Drawn `json:"pH"`
	Beta figure.Drawn `json:"beta"` // mol/L per pH
	// Water is the part of water alone.
	Water figure.Drawn `json:"water"`
	Forms []Form       `json:"forms"`
	PKa   []float64    `json:"pKa"`
	// Low and High bound the useful range.
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// Charge is what one ion adds to the balance of charge, in mol/L.
type Charge struct {
	Formula []formula.Piece `json:"formula"`
	Value   float64         `json:"value"`
}

// Form is one of the system's, with its fraction at each pH.
type Form struct {
	Formula  []formula.Piece `json:"formula"`
	Fraction figure.Drawn    `json:"fraction"`
}

// Design is what a plan gives, as its page shows it.
type Design struct {
	Request Request `json:"-"`
	Name    string  `json:"name"`
	Celsius float64 `json:"celsius"`
	MadeAt  float64 `json:"madeAt"`
	Acid    string  `json:"acid"`
	Base    string  `json:"base"`
	// ByVolume reports that volumes are mixed as they are: then no flask is filled.
	ByVolume  bool            `json:"byVolume"`
	Flask     glassware.Flask `json:"flask"`
	Lines     []Line          `json:"lines"`
	Estimate  Estimate        `json:"estimate"`
	Landscape Landscape       `json:"landscape"`
	// Balance are the charges of the first buffer, mol/L.
	Balance  []Charge          `json:"balance"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

func (r Request) design() (Design, error) {
	d := Design{Request: r, Verdicts: []verdict.Verdict{}}
	if err := r.check(); err != nil {
		return d, err
	}
	flask, err := r.flask()
	if err != nil && !r.byVolume() {
		return d, verdict.Problems{{Field: "/volume", Reason: err.Error()}}
	}
	d.ByVolume, d.Flask = r.byVolume(), flask
	d.Name, d.Celsius, d.MadeAt, d.Acid, d.Base = r.name(), r.Celsius, r.MadeAt, r.Acid.String(), r.Base.String()
	if d.Lines, err = r.lines(); err != nil {
		return d, err
	}
	d.Estimate = r.estimate(d.Lines[0].mix)
	d.Landscape = r.landscape(d.Lines[0].mix)
	d.Balance = r.balance(d.Lines[0].mix)
	d.Verdicts = append(d.Verdicts, r.judge(d.Lines)...)
	return d, nil
}

// lines plans all buffers.
func (r Request) lines() ([]Line, error) {
	var list []Line
	for i := range r.targets() {
		line, err := r.line(i)
		if err != nil {
			return nil, err
		}
		list = append(list, line)
	}
	return list, nil
}

// line plans one buffer.
func (r Request) line(tubeAt int) (Line, error) {
	pH := r.targets()[tubeAt]
	c, err := r.composition(tubeAt)
	if err != nil {
		return Line{}, err
	}
	if part := r.liquids(c); part > 1 && !r.byVolume() {
		return Line{}, verdict.Problems{{Field: "/concentration", Reason: fmt.Sprintf(
			"the stocks would take %.0f %% of the flask for pH %.2f: at most %s mol/L can be made of them",
			100*part, pH, trim(quantity.Significant(0.98*r.Concentration/part, 3)))}}
	}
	l := Line{Target: pH, Total: r.strengthOf(c), mix: c, Figures: r.figures(r.planned(c, r.Celsius))}
	for k, i := range r.ingredients() {
		mol := c.of(k) * r.volume(c) / 1000
		l.Takes = append(l.Takes, Take{Name: i.String(), Amount: r.say(i, mol), mol: mol})
	}
	made, err := r.planned(c, r.MadeAt).PH()
	if err != nil {
		return l, err
	}
	l.Made = quantity.Digits(made.Value, 2)
	half, err := r.planned(c, r.Celsius).Scaled(uncertain.Exact(0.5)).PH()
	l.Diluted = quantity.Digits(half.Value, 2)
	return l, err
}

// of is the concentration of an ingredient, by its place.
func (c Composition) of(k int) float64 { return [3]float64{c.Acid, c.Base, c.Salt}[k] }

// ingredients are acid, base, and the salt when there is one.
func (r Recipe) ingredients() []Ingredient {
	list := []Ingredient{r.Acid, r.Base}
	if r.Salt != nil {
		list = append(list, *r.Salt)
	}
	return list
}

// planned is the mixture of a composition as it would be made with care.
func (r Request) planned(c Composition, celsius float64) equilibrium.Mixture {
	var n [3]uncertain.Number
	var taken []uncertain.Number
	for k, i := range r.ingredients() {
		taken = append(taken, r.plannedTake(i, i.For(c.of(k)*r.volume(c)/1000), fmt.Sprint(k)))
		n[k] = i.Amount(taken[k])
	}
	if r.byVolume() {
		return r.Mixture(n[0], n[1], n[2], sum(taken), temperature(celsius))
	}
	flask, _ := r.flask() //nolint:errcheck // checked before
	return r.Mixture(n[0], n[1], n[2], flask.AtReference(), temperature(celsius))
}

// plannedTake is a mass or a volume as it is going to be taken.
func (r Request) plannedTake(i Ingredient, amount float64, id string) uncertain.Number {
	if i.Liquid() {
		return r.measure(amount).Dispensed(amount, id)
	}
	return r.Balance.Net(amount, 0, id)
}

// measure is the glass that an ingredient is measured with.
func (r Request) measure(mL float64) glassware.Item { return glassware.Finest(mL, r.Glass) }

// dropper is the glass that brings a buffer to its pH, drop by drop.
func (r Request) dropper(mL float64) glassware.Item {
	return glassware.Largest(glassware.Burette, mL, r.Glass)
}

// figures are those of a mixture, at its own temperature.
func (r Request) figures(m equilibrium.Mixture) []figure.Figure {
	pH, err := m.PH()
	if err != nil {
		return nil
	}
	beta, _ := m.Capacity()     //nolint:errcheck // it could be solved
	strength, _ := m.Strength() //nolint:errcheck // likewise
	return []figure.Figure{
		figure.New("pH", "pH calculated", "", pH).As(figure.PH),
		figure.New("total", r.countsWhat(), "mol/L", r.counted(m, r.total(m))).As(figure.Concentration),
		figure.New("capacity", "buffer capacity per pH", "mol/L", beta).As(figure.Capacity),
		figure.New("strength", "ionic strength", "mol/L", strength).As(figure.Strength),
	}
}

// total is that of the system in all its forms, mol/L.
func (r Request) total(m equilibrium.Mixture) uncertain.Number {
	for _, a := range m.Amounts {
		if a.System.Key == r.System.Key {
			return a.C
		}
	}
	return uncertain.Number{}
}

// countsWhat says what the concentration of the buffer counts.
func (r Request) countsWhat() string {
	if r.Basis == 0 {
		return r.System.Common() + ", all forms"
	}
	step, _ := r.System.Step(r.Target, r.Celsius)
	return r.System.Form(step + r.Basis - 1)
}

// counted is the concentration of what the buffer is named by.
func (r Request) counted(m equilibrium.Mixture, total uncertain.Number) uncertain.Number {
	if r.Basis == 0 {
		return total
	}
	s, err := m.Solver()
	if err != nil {
		return total
	}
	p := s.Solve()
	step, _ := r.System.Step(r.Target, r.Celsius)
	for _, x := range m.Species(s, p) {
		if x.System == r.System.Key && x.Formula == r.System.Form(step+r.Basis-1) {
			return total.Scale(x.Fraction)
		}
	}
	return total
}

// estimate is what Henderson and Hasselbalch say, and why the full balance says otherwise.
func (r Request) estimate(c Composition) Estimate {
	step, pKa := r.System.Step(r.Target, r.Celsius)
	ratio := math.Pow(10, r.Target-pKa)
	e := Estimate{Ratio: quantity.Digits(ratio, max(0, 3-int(math.Floor(math.Log10(ratio))+1)))}
	e.Line = working.Line{
		Title:       "Estimate by Henderson and Hasselbalch",
		Symbol:      `\mathrm{pH}`,
		Formula:     `\frac{[\mathrm{base}]}{[\mathrm{acid}]} = 10^{\,\mathrm{pH} - \mathrm{p}K_a}`,
		Substituted: fmt.Sprintf(`\frac{[\mathrm{base}]}{[\mathrm{acid}]} = 10^{\,%.2f - %.3f}`, r.Target, pKa),
		Result:      e.Ratio,
		From: []string{
			fmt.Sprintf("pKa: step %d of %s, at %s °C and no ionic strength; %s", step+1, r.System.Name, trim(r.Celsius), r.System.Cited()),
		},
	}
	// The recipe of the estimate, solved in full.
	m := r.estimated(float64(step)+ratio/(1+ratio), c.Total)
	s, err := m.Solver()
	if err != nil {
		return e
	}
	p := s.Solve()
	e.PH = quantity.Digits(p.PH, 2)
	ideal := m
	ideal.Model = equilibrium.Ideal
	si, err := ideal.Solver()
	if err != nil {
		return e
	}
	byActivity, byRest := p.PH-si.Solve().PH, si.Solve().PH-r.Target
	if math.Abs(byActivity) >= 0.005 {
		e.Reasons = append(
			e.Reasons,
			fmt.Sprintf("Activities, at an ionic strength of %s mol/L, move it by %s.", trim(quantity.Significant(p.Strength, 2)), quantity.Signed(byActivity, 2)),
		)
	}
	if math.Abs(byRest) >= 0.005 {
		e.Reasons = append(e.Reasons, fmt.Sprintf("What water and the other steps take or give moves it by %s.", quantity.Signed(byRest, 2)))
	}
	return e
}

// estimated is what the two ingredients make when each unit of the system has given off so many
// protons on average, at a total concentration: with all ions that they bring. Where the other one
// buffers too, it is the system with the ions that keep it neutral.
func (r Request) estimated(lost, total float64) equilibrium.Mixture {
	acid, _ := r.Acid.Compound()
	base, _ := r.Base.Compound()
	acid, base = r.own(acid), r.own(base)
	ofAcid, ofBase := units(acid, r.System.Key), units(base, r.System.Key)
	var a, b float64 // mol/L of each
	switch {
	case ofAcid > 0 && ofBase > 0:
		given, taken := acid.Lost()/ofAcid, base.Lost()/ofBase
		b = total / ofBase * (lost - given) / (taken - given)
		a = (total - b*ofBase) / ofAcid
	case ofAcid > 0 && base.Strong() > 0:
		a = total / ofAcid
		b = (lost*total - a*acid.Lost()) / base.StrongCharge()
	case ofBase > 0 && acid.Strong() < 0:
		b = total / ofBase
		a = (b*base.Lost() - lost*total) / -acid.StrongCharge()
	default:
		m := equilibrium.Mixture{
			Celsius: uncertain.Exact(r.Celsius), Model: r.Model,
			Amounts: []equilibrium.Amount{{System: r.System, C: uncertain.Exact(total)}},
		}
		charge := (lost - float64(r.System.Charge())) * total
		m.AddIon("Na+", 1, uncertain.Exact(math.Max(0, charge)))
		m.AddIon("Cl-", -1, uncertain.Exact(math.Max(0, -charge)))
		return m
	}
	return r.Mixture(exact(math.Max(0, a)), exact(math.Max(0, b)), exact(0), exact(1000), uncertain.Exact(r.Celsius))
}

// solved is a composition solved, and its mixture.
func (r Request) solved(c Composition, celsius float64) (*equilibrium.Solver, equilibrium.Mixture) {
	m := r.planned(c, celsius)
	s, err := m.Solver()
	if err != nil { // the recipe was checked
		return &equilibrium.Solver{}, m
	}
	s.Solve()
	return s, m
}

// goalAt is the pH that a composition of a target should have at a temperature.
func (r Request) goalAt(c Composition, target, celsius float64) float64 {
	at, err := r.planned(c, celsius).Solver()
	use, useErr := r.planned(c, r.Celsius).Solver()
	if err != nil || useErr != nil {
		return target
	}
	return target + at.Solve().PH - use.Solve().PH
}

// madePH is the pH of a composition at the temperature of making.
func (r Request) madePH(c Composition) float64 {
	s, _ := r.solved(c, r.MadeAt)
	return s.Solve().PH
}
