package absorbance

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// Reading is one as the screen shows it.
type Reading struct {
	Fact  string    `json:"fact"`
	Shown string    `json:"shown"`
	A     float64   `json:"a"` // what counts
	AText string    `json:"aText"`
	TText string    `json:"tText"` // transmittance in %
	At    time.Time `json:"at"`
}

// Vessel is a standard or an unknown as the screen shows it.
type Vessel struct {
	Part   int    `json:"part"`
	Name   string `json:"name"`
	Bottle string `json:"bottle,omitempty"`
	Owner  string `json:"owner,omitempty"`
	Cell   int    `json:"cell"` // from 1
	// C is the concentration of a standard, ± U; Text writes it.
	Unknown  bool      `json:"unknown"`
	C        float64   `json:"c"`
	U        float64   `json:"u"`
	Text     string    `json:"text"`
	Readings []Reading `json:"readings"`
	Mean     float64   `json:"mean"` // of the readings, 0 before one
	// Residual of the mean from the line, 0 before there is one.
	Residual float64 `json:"residual"`
	Struck   string  `json:"struck"` // why it does not count; empty where it does
	Guess    string  `json:"guess"`  // by eye, in words
	// Figure is the ID of what was found in an unknown, Sample that of its sample before it was diluted; empty of none.
	Figure string `json:"figure"`
	Sample string `json:"sample"`
	// Dilute is by how many times to dilute one that is too strong; 0 of any other.
	Dilute   float64           `json:"dilute"`
	Schools  []School          `json:"schools"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// School is one way to read an unknown.
type School struct {
	Name string `json:"name"`
	Text string `json:"text"` // its concentration with its interval
	// Taken reports whether it is the one that counts here.
	Taken bool `json:"taken"`
}

// BandPoint is a point of the line with its confidence band at 95 %.
type BandPoint struct {
	C    float64 `json:"c"`
	A    float64 `json:"a"`
	Half float64 `json:"half"`
}

// Best is the range of absorbances that is read best.
type Best struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// View is what the drawing of a run needs.
type View struct {
	Kind       string   `json:"kind"`
	Unit       string   `json:"unit"`
	Wavelength float64  `json:"wavelength"`
	Vessels    []Vessel `json:"vessels"`
	// Line is the one that counts; nil before there is one, and Not says why.
	Line    *photometry.Model `json:"line,omitempty"`
	Zero    *photometry.Model `json:"zero,omitempty"`
	General *photometry.Model `json:"general,omitempty"`
	Says    string            `json:"says"` // the line as an equation
	Not     string            `json:"not"`
	// Before is the line that readings are expected by, Predicted what they will be in words; none once there is a line.
	Before    *Before `json:"before,omitempty"`
	Predicted string  `json:"predicted"`
	// Added is what standard additions give; nil of a rack of standards, and before there is a line.
	Added    *Added            `json:"added,omitempty"`
	Band     []BandPoint       `json:"band"`
	Best     Best              `json:"best"`
	Limits   string            `json:"limits"` // of detection and quantification
	Blanks   []Reading         `json:"blanks"`
	Warmth   []Warmth          `json:"warmth"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Warmth is a temperature that was read.
type Warmth struct {
	Fact  string `json:"fact"`
	Name  string `json:"name"`
	Shown string `json:"shown"`
}

func (a *account) outcome() run.Outcome {
	view := a.view()
	out := run.Outcome{Exact: true, Readings: a.used, View: view, Figures: a.figures(), Table: a.table(view), Plots: view.plots()}
	if a.ended {
		out.Products = []run.Product{{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Substance, Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.used, Detail: a.line,
		}}
	} else {
		out.Offers = a.offers()
	}
	out.Place(a.steps(view.Verdicts), &a.notes, a.reason, a.isDone)
	return out
}

// plots are the line with its readings, and what lies off it.
func (v View) plots() []run.Plot {
	if v.Line == nil {
		return nil
	}
	main := run.Plot{XLabel: v.Unit, YLabel: fmt.Sprintf("absorbance at %g nm", v.Wavelength)}
	rest := run.Plot{XLabel: v.Unit, YLabel: "AU off the line"}
	var line, area [][2]float64
	for i, b := range v.Band {
		line, area = append(line, [2]float64{b.C, b.A}), append(area, [2]float64{b.C, b.A + b.Half})
		if i == len(v.Band)-1 {
			rest.Lines = [][][2]float64{{{0, 0}, {b.C, 0}}}
		}
	}
	for i := len(v.Band) - 1; i >= 0; i-- {
		area = append(area, [2]float64{v.Band[i].C, v.Band[i].A - v.Band[i].Half})
	}
	main.Lines, main.Areas = [][][2]float64{line}, [][][2]float64{area}
	for _, vessel := range v.Vessels {
		if vessel.Unknown {
			if vessel.Figure != "" {
				main.Drops, main.Names = append(main.Drops, [2]float64{vessel.C, vessel.Mean}), append(main.Names, vessel.Name)
			}
			continue
		}
		for _, read := range vessel.Readings {
			at, off := [2]float64{vessel.C, read.A}, [2]float64{vessel.C, read.A - v.Line.Intercept - v.Line.Slope*vessel.C}
			if vessel.Struck != "" {
				main.Hollow = append(main.Hollow, at)
				continue
			}
			main.Points, rest.Points = append(main.Points, at), append(rest.Points, off)
		}
	}
	return []run.Plot{main, rest}
}

// bandPoints is at how many places the band is drawn.
const bandPoints = 41

func (a *account) view() View {
	high := a.Thresholds.Of(photometry.RuleBand)
	v := View{
		Kind: Kind, Unit: a.Unit, Wavelength: a.Wavelength, Not: a.not,
		Vessels: []Vessel{}, Band: []BandPoint{}, Blanks: []Reading{}, Warmth: []Warmth{},
		Best: Best{high / 4, high}, Verdicts: []verdict.Verdict{},
	}
	for _, f := range a.blanks {
		v.Blanks = append(v.Blanks, ShownReading(f, photometry.Shown(*f.Quantity)))
	}
	for of, f := range a.warm {
		if f != nil {
			v.Warmth = append(v.Warmth, Warmth{f.ID, run.UpperFirst(warmName(of)), f.Quantity.String()})
		}
	}
	if a.answer != nil {
		v.Line, v.Zero, v.General, v.Says = &a.answer.Line, &a.answer.ThroughZero, a.answer.General, a.says()
		v.Verdicts = append(slices.Clone(a.answer.Verdicts), a.warmer()...)
		if a.Additions != nil { // there the intercept is the sample
			v.Verdicts = slices.DeleteFunc(v.Verdicts, func(v verdict.Verdict) bool { return v.Rule == photometry.RuleIntercept.ID })
		}
		v.Limits = fmt.Sprintf("Limit of detection %s, of quantification %s (3.3 and 10 residual standard deviations).",
			a.sayConcentration(a.answer.Detection, 2), a.sayConcentration(a.answer.Quantification, 2))
		most := 0.0
		for _, c := range a.sorted() {
			most = max(most, c)
		}
		from := 0.0
		if a.Additions != nil { // drawn back to no absorbance
			from = min(0, -a.answer.Line.Intercept/a.answer.Line.Slope)
		}
		for i := range bandPoints {
			c := from + (most*1.08-from)*float64(i)/(bandPoints-1)
			y, half := v.Line.At(c)
			v.Band = append(v.Band, BandPoint{c, y, half})
		}
	}
	v.Added = a.addedView()
	if v.Line == nil && a.Before != nil && a.Additions == nil {
		v.Before, v.Predicted = a.Before, a.predicted()
	}
	for _, part := range a.order() {
		v.Vessels = append(v.Vessels, a.vesselView(part))
	}
	return v
}

// at is about what a concentration will be read as, AU.
func (b Before) at(c float64) float64 { return b.Intercept + b.Slope*c }

// predicted says what the standards will read, and whether they suit the photometer.
func (a *account) predicted() string {
	sorted, band := a.sorted(), a.Thresholds.Of(photometry.RuleBand)
	low, high := a.Before.at(sorted[0]), a.Before.at(sorted[len(sorted)-1])
	says := fmt.Sprintf("As in run %d, they will read about %s to %s AU.", a.Before.Number, quantity.Digits(low, 2), quantity.Digits(high, 2))
	switch {
	case high > band:
		says += fmt.Sprintf(" The strongest is above %g: take a shorter path, or a weaker rack.", band)
	case high < band/4:
		says += fmt.Sprintf(" All are below %g: take a longer path, or a stronger rack.", band/4)
	}
	return says
}

// says writes the line as an equation.
func (a *account) says() string {
	l := a.answer.Line
	slope, _ := quantity.Round(l.Slope, l.SlopeSE)
	intercept, _ := quantity.Round(math.Abs(l.Intercept), l.InterceptSE)
	sign := "+"
	if l.Intercept < 0 {
		sign = "−"
	}
	weighted := ""
	if a.answer.Weighted {
		weighted = "; each reading weighs by its scatter"
	}
	return fmt.Sprintf("A = %s·c %s %s with c in %s; R² %s, residual SD %s%s", slope, sign, intercept, a.Unit,
		photometry.SayR2(l.R2), quantity.Digits(l.SD, 4), weighted)
}

// ShownReading is how a screen shows a reading of which net counts, AU.
func ShownReading(f fact.Fact, net float64) Reading {
	return Reading{
		Fact: f.ID, Shown: f.Quantity.String(), A: net, AText: quantity.Digits(net, 3), At: f.At,
		TText: quantity.Digits(photometry.Transmittance(net), 1),
	}
}

func (a *account) vesselView(part int) Vessel {
	v := Vessel{
		Part: part, Name: run.UpperFirst(a.vessel(part)), Cell: a.cell(part) + 1, Readings: []Reading{}, Struck: a.struck[part],
		Schools: []School{}, Verdicts: a.doubts(part),
	}
	for _, read := range a.reads[part] {
		v.Readings = append(v.Readings, ShownReading(read.Fact, read.net))
		v.Mean += read.net / float64(len(a.reads[part]))
	}
	if i := a.unknown(part); i >= 0 {
		u := a.Unknowns[i]
		v.Unknown, v.Bottle, v.Owner = true, u.Bottle, u.Owner
		if a.guess[part] != "" {
			v.Guess = a.sayGuess(a.guess[part])
		}
		a.readUnknown(&v)
		return v
	}
	s := a.Standards[part]
	v.Bottle, v.C, v.U = s.Bottle, s.Concentration.Value, s.Concentration.Expanded()
	v.Text = say(s.Concentration, a.Unit)
	if a.answer != nil && len(v.Readings) > 0 {
		v.Residual = v.Mean - a.answer.Line.Intercept - a.answer.Line.Slope*v.C
	}
	return v
}

// readUnknown fills in what was found in an unknown, by each school.
func (a *account) readUnknown(v *Vessel) {
	c, ok := a.concentration(v.Part)
	if !ok {
		return
	}
	found := a.answer.Unknowns[a.found[v.Part]]
	v.C, v.U, v.Text, v.Dilute = c.Value, c.Expanded(), say(c, a.Unit), found.Dilute
	v.Figure = figureID(v.Part)
	if _, diluted := a.factor(v.Part); diluted {
		v.Sample = sampleID(v.Part)
	}
	v.Verdicts = append(v.Verdicts, found.Verdicts...)
	if wider := 100 * (c.U()/found.SE - 1); wider > a.Thresholds.Of(photometry.RuleErrors) {
		v.Verdicts = append(v.Verdicts, photometry.RuleErrors.Says(verdict.Fine, nil,
			"The error that the standards have in common, like that of their stock, makes this interval %s %% wider. It is included.", quantity.Digits(wider, 0)))
	}
	digits := max(0, quantity.Decimals(found.SE))
	between := func(i photometry.Interval) string {
		return quantity.Digits(i.From, digits) + " to " + quantity.Digits(i.To, digits) + " " + a.Unit
	}
	taken := figure.New("", "", a.Unit, c).String()
	by := "line with intercept"
	if a.answer.Weighted {
		by = "weighted line with intercept"
	}
	v.Schools = append(v.Schools, School{by + ", all that adds to it", taken, true})
	if found.Fieller != nil {
		v.Schools = append(v.Schools, School{by + ", its scatter alone (Fieller)", between(*found.Fieller), false})
	}
	v.Schools = append(v.Schools,
		School{by + ", its scatter alone (first order)", between(found.FirstOrder), false},
		School{"slope through zero alone", quantity.Digits(found.BySlope, digits) + " " + a.Unit, false})
	if a.answer.General != nil {
		v.Schools = append(v.Schools, School{
			"line with errors of the standards",
			quantity.Digits(found.ByGeneral, digits) + " ± " + quantity.Digits(a.answer.T*found.GeneralSE, digits) + " " + a.Unit, false,
		})
	}
	if guess := a.guess[v.Part]; guess != "" {
		a.compareGuess(v, guess)
	}
}

// compareGuess says whether the eye was right.
func (a *account) compareGuess(v *Vessel, guess string) {
	i, err := strconv.Atoi(guess)
	if err != nil {
		return
	}
	place := 0
	for _, c := range a.sorted() {
		if v.C > c {
			place++
		}
	}
	word := "The reading agrees"
	if i != place {
		word = "The reading says otherwise"
	}
	v.Guess += ". " + word
}

func figureID(part int) string { return fmt.Sprintf("unknown %d", part) }
func sampleID(part int) string { return fmt.Sprintf("sample %d", part) }

func (a *account) figures() []figure.Figure {
	list := []figure.Figure{}
	if a.answer == nil {
		return list
	}
	list = append(list, a.addedFigures()...)
	for _, part := range a.order() {
		c, ok := a.concentration(part)
		if !ok {
			continue
		}
		u := a.Unknowns[a.unknown(part)]
		f, diluted := a.factor(part)
		if diluted {
			list = append(list, figure.New(sampleID(part), u.Name+", before it was diluted", a.Unit, c.Times(f)).As(figure.OtherConcentration))
		}
		list = append(list, figure.New(figureID(part), u.Name+", as it was read", a.Unit, c).As(figure.OtherConcentration))
	}
	if a.Earlier != nil {
		return list
	}
	slope := a.slope()
	list = append(list, figure.New("slope", "slope of the line", a.perUnit(), slope),
		figure.New("intercept", "intercept of the line", "AU", a.intercept()))
	if e, ok := a.absorptivity(); ok {
		list = append(list, figure.New("absorptivity", "molar absorptivity", "L/(mol·cm)", e))
	}
	return list
}

func (r Request) perUnit() string { return "AU per " + r.Unit }

func (a *account) slope() uncertain.Number {
	l := a.answer.Line
	return uncertain.New(l.Slope, l.SlopeSE, uncertain.Source{ID: "slope", Label: "scatter of the readings", DoF: float64(l.DF)})
}

func (a *account) intercept() uncertain.Number {
	l := a.answer.Line
	return uncertain.New(l.Intercept, l.InterceptSE, uncertain.Source{ID: "intercept", Label: "scatter of the readings", DoF: float64(l.DF)})
}

// absorptivity is ε = b/(f·l) in L/(mol·cm), with f the mol/L of one unit; ok is false where the unit counts no amount.
func (a *account) absorptivity() (e uncertain.Number, ok bool) {
	f, ok := molar(a.Unit)
	return a.slope().Scale(1 / (f * a.Path / 10)), ok
}
