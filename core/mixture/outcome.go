package mixture

import (
	"fmt"
	"math"
	"strings"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Held is how much of a substance a sample holds, as the screen shows it.
type Held struct {
	C    float64 `json:"c"`
	U    float64 `json:"u"`
	Text string  `json:"text"`
	// Figure is the ID of what was found in it, Sample that before it was diluted; empty where it was not.
	Figure string `json:"figure"`
	Sample string `json:"sample"`
}

// Equation is what a wavelength says: First·c₁ + Second·c₂ = A, the intercepts taken off.
type Equation struct {
	A      float64 `json:"a"`
	First  float64 `json:"first"`
	Second float64 `json:"second"`
}

// SampleView is a sample as the screen shows it.
type SampleView struct {
	Name string `json:"name"`
	// Readings at both wavelengths.
	Readings [][]absorbance.Reading `json:"readings"`
	// Held are both substances, Equations those of both wavelengths; none before it was read at both.
	Held      []Held            `json:"held"`
	Equations []Equation        `json:"equations"`
	Apart     float64           `json:"apart"`
	Verdicts  []verdict.Verdict `json:"verdicts"`
}

// View is what the drawing of a run needs.
type View struct {
	Kind        string       `json:"kind"`
	Names       []string     `json:"names"`
	Units       []string     `json:"units"`
	Wavelengths []float64    `json:"wavelengths"`
	Samples     []SampleView `json:"samples"`
	// Blanks at both wavelengths.
	Blanks [][]absorbance.Reading `json:"blanks"`
	// Slopes of both substances at both wavelengths, AU per unit; Says what they are worth.
	Slopes [][]float64 `json:"slopes"`
	Says   string      `json:"says"`
	Not    string      `json:"not"` // why nothing is found
}

func (a *account) view() View {
	v := View{Kind: Kind, Names: []string{}, Units: []string{}, Wavelengths: a.Wavelengths, Samples: []SampleView{}, Not: a.not}
	for _, s := range a.Substances {
		v.Names, v.Units = append(v.Names, s.Name), append(v.Units, s.Unit)
	}
	v.Slopes, v.Says = a.slopes()
	for _, blanks := range a.blanks {
		list := []absorbance.Reading{}
		for _, f := range blanks {
			list = append(list, absorbance.ShownReading(f, photometry.Shown(*f.Quantity)))
		}
		v.Blanks = append(v.Blanks, list)
	}
	for i, s := range a.Samples {
		of := SampleView{Name: s.Name, Held: []Held{}, Equations: []Equation{}, Verdicts: a.judged(i)}
		for at := range a.Wavelengths {
			list := []absorbance.Reading{}
			for _, read := range a.reads[a.part(i, at)] {
				list = append(list, absorbance.ShownReading(read.Fact, read.net))
			}
			of.Readings = append(of.Readings, list)
			of.Verdicts = append(of.Verdicts, a.doubts(a.part(i, at))...)
		}
		if is := a.found[i]; is != nil {
			of.Apart = is.Apart
			for k, c := range is.c {
				held := Held{c.Value, c.Expanded(), figure.New("", "", a.Substances[k].Unit, c).String(), figureID(i, k), ""}
				if s.Diluted > 1 {
					held.Sample = sampleID(i, k)
				}
				of.Held = append(of.Held, held)
			}
			for at := range a.Wavelengths {
				of.Equations = append(of.Equations, a.equation(i, at))
			}
		}
		of.Verdicts = distinct(of.Verdicts)
		v.Samples = append(v.Samples, of)
	}
	return v
}

// unrest is an error of a reading that a good photometer and a clean cell stay within, AU (common practice).
const unrest = 0.002

// slopes are those of the lines, with a sentence on how well they tell the two apart.
func (a *account) slopes() (list [][]float64, says string) {
	list = [][]float64{}
	for _, models := range a.models {
		var of []float64
		for _, m := range models {
			of = append(of, m.Slope)
		}
		if len(of) == 2 {
			list = append(list, of)
		}
	}
	if len(list) < 2 {
		return list, ""
	}
	first, second := list[0], list[1]
	det := first[0]*second[1] - first[1]*second[0]
	if det == 0 {
		return list, "Both absorb in the same ratio at these wavelengths: take others."
	}
	apart := math.Abs(det) / (math.Hypot(first[0], first[1]) * math.Hypot(second[0], second[1]))
	off := func(own []float64) string { return quantity.Digits(unrest*math.Hypot(own[0], own[1])/math.Abs(det), 2) }
	return list, fmt.Sprintf("These wavelengths tell the two apart to %s, where 1 is best. Readings that are off by %g AU move %s by %s %s, and %s by %s %s.", quantity.Digits(apart, 2), unrest,
		a.Substances[0].Name, off(second), a.Substances[0].Unit, a.Substances[1].Name, off(first), a.Substances[1].Unit)
}

// equation of a wavelength for a sample that was read.
func (a *account) equation(sample, at int) Equation {
	first, second := a.models[0][at], a.models[1][at]
	return Equation{a.found[sample].means[at] - first.Intercept - second.Intercept, first.Slope, second.Slope}
}

func (a *account) outcome() run.Outcome {
	view := a.view()
	out := run.Outcome{Exact: true, Readings: a.used, View: view, Figures: a.figures(), Table: a.table(view), Plots: view.plots()}
	if a.ended {
		out.Products = []run.Product{{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Title(), Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.used,
		}}
	} else {
		for part := range a.reads {
			if sample, at := a.placed(part); len(a.reads[part]) > 0 && a.done(part) {
				label := fmt.Sprintf("Read %s once more at %s", a.Samples[sample].Name, a.sayNm(at))
				out.Offers = append(out.Offers, run.Offer{Choice: verdict.Choice{ID: choiceAgain, Label: label}, Part: part})
			}
		}
	}
	out.Place(a.steps(view), &a.notes, a.reason, a.isDone)
	return out
}

// table is what was read and what it gives.
func (a *account) table(v View) [][]string {
	list := [][]string{{"sample", "nm", "shown", "A", "%T", "substance", "concentration", "U (k = 2)", "unit", "doubts"}}
	for _, s := range v.Samples {
		doubts := ""
		for _, doubt := range s.Verdicts {
			if doubt.Level != verdict.Fine {
				doubts += doubt.Rule + ": " + doubt.Sentence + " "
			}
		}
		for at, readings := range s.Readings {
			for _, read := range readings {
				list = append(list, []string{s.Name, quantity.Trim(v.Wavelengths[at]), read.Shown, read.AText, read.TText, "", "", "", "", ""})
			}
		}
		for of, held := range s.Held {
			c, u := quantity.Round(held.C, held.U)
			list = append(list, []string{s.Name, "", "", "", "", v.Names[of], c, u, v.Units[of], doubts})
		}
	}
	return list
}

// plots are the two equations of the first samples: where they cross is what the sample holds.
func (v View) plots() (list []run.Plot) {
	const most = 4
	for _, s := range v.Samples {
		if len(s.Held) == 0 || len(list) == most {
			continue
		}
		plot := run.Plot{XLabel: v.Names[0] + ", " + v.Units[0], YLabel: v.Names[1] + ", " + v.Units[1]}
		x, y := 2*math.Abs(s.Held[0].C)+s.Held[0].U, 2*math.Abs(s.Held[1].C)+s.Held[1].U
		for _, e := range s.Equations {
			if line := e.across(x, y); len(line) == 2 {
				plot.Lines = append(plot.Lines, line)
			}
		}
		plot.Drops, plot.Names = [][2]float64{{s.Held[0].C, s.Held[1].C}}, []string{s.Name}
		list = append(list, plot)
	}
	return list
}

// across is where the equation enters and leaves the drawing, which reaches from nothing to x and y.
func (e Equation) across(x, y float64) (ends [][2]float64) {
	add := func(p [2]float64) {
		if p[0] >= 0 && p[0] <= x && p[1] >= 0 && p[1] <= y && len(ends) < 2 && (len(ends) == 0 || ends[0] != p) {
			ends = append(ends, p)
		}
	}
	if e.Second != 0 {
		add([2]float64{0, e.A / e.Second})
		add([2]float64{x, (e.A - e.First*x) / e.Second})
	}
	if e.First != 0 {
		add([2]float64{e.A / e.First, 0})
		add([2]float64{(e.A - e.Second*y) / e.First, y})
	}
	return ends
}

func figureID(sample, of int) string { return fmt.Sprintf("sample %d substance %d", sample, of) }
func sampleID(sample, of int) string { return figureID(sample, of) + " undiluted" }

func (a *account) figures() []figure.Figure {
	list := []figure.Figure{}
	for i, is := range a.found {
		if is == nil {
			continue
		}
		for of, s := range a.Substances {
			label := s.Name + " in " + run.LowerFirst(a.Samples[i].Name)
			if a.Samples[i].Diluted > 1 {
				list = append(list, figure.New(sampleID(i, of), label+", before it was diluted", s.Unit, is.sample[of]).As(figure.OtherConcentration))
				label += ", as it was read"
			}
			list = append(list, figure.New(figureID(i, of), label, s.Unit, is.c[of]).As(figure.OtherConcentration))
		}
	}
	return list
}

const judgeStep = "judge"

func blankStep(at, i int) string { return fmt.Sprintf("blank %d %d", at, i) }
func readStep(part int) string   { return fmt.Sprintf("read %d", part) }

// isDone reports whether nothing is asked for at a step any more.
func (a *account) isDone(s *run.Step) bool {
	switch s.Kind {
	case KindBlank:
		i := 0
		if _, err := fmt.Sscanf(s.ID, "blank %d %d", new(int), &i); err != nil {
			return false
		}
		return i < len(a.blanks[s.Part])
	case KindRead:
		return a.done(s.Part)
	}
	return a.ended
}

func (a *account) steps(v View) []run.Step {
	var list []run.Step
	for at, nm := range a.Wavelengths {
		for i := range max(a.wanted[at], len(a.blanks[at])) {
			list = append(list, a.shows(at, run.Step{
				ID: blankStep(at, i), Part: at, Kind: KindBlank, Expects: "0.000 AU", Tares: a.Photometer != nil, Molar: new(float64),
				Title: fmt.Sprintf("Set %g nm; with the blank in the cell set zero, then read it", nm),
				Hint:  "The blank is set again after every change of wavelength: lamp and detector differ from one to the next.",
			}))
		}
		for sample, s := range a.Samples {
			part := a.part(sample, at)
			title := fmt.Sprintf("%s, at %g nm", run.UpperFirst(s.Name), nm)
			if n := a.Replicates + a.again[part]; n > 1 {
				title += fmt.Sprintf(": reading %d of %d", min(n, len(a.reads[part])+1), n)
			}
			list = append(list, a.shows(at, run.Step{
				ID: readStep(part), Part: part, Kind: KindRead, Title: title, Verdicts: a.doubts(part),
				Hint: "Rinse the cell with a little of it first. No bubbles, no fingerprints, the marked side to the lamp.",
			}))
		}
	}
	return append(list, a.judgeStep(v))
}

// shows fills in what every reading asks for.
func (a *account) shows(at int, s run.Step) run.Step {
	s.Asks, s.Input, s.Label, s.Unit = true, run.InputQuantity, "Absorbance shown", "AU"
	s.Dimensions = []quantity.Dimension{quantity.Absorbance, quantity.Transmittance}
	s.Remarks, s.Instrument, s.Wavelength = photometry.Remarks(), a.Photometer.Named(), a.Wavelengths[at]
	s.Cautions = []string{"Wear goggles and gloves; what the solutions are decides the rest. Your local rules, the safety data sheet and licensed waste handling come first."}
	return s
}

// judgeStep is where a person looks at what was found and keeps it.
func (a *account) judgeStep(v View) run.Step {
	s := run.Step{ID: judgeStep, Kind: run.KindDecided, Input: run.InputChoice, Title: "Look at what was found, then keep it"}
	for _, sample := range v.Samples {
		s.Verdicts = append(s.Verdicts, sample.Verdicts...)
	}
	if s.Verdicts = distinct(s.Verdicts); len(s.Verdicts) == 0 {
		says := "The two are told apart well at these wavelengths."
		if a.not != "" {
			says = a.not
		}
		s.Verdicts = []verdict.Verdict{photometry.RuleApart.Finds(verdict.Fine, nil, says)}
	}
	s.Verdicts[0].Choices = []verdict.Choice{{ID: choiceEnd, Label: "Keep this result"}}
	return s
}

// Explain implements [run.Plan].
func (r Request) Explain(facts []fact.Fact, id string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	for i, is := range a.found {
		for of := range a.Substances {
			if is == nil || id != figureID(i, of) && id != sampleID(i, of) {
				continue
			}
			list, n := a.lineOf(i, of), is.c[of]
			if id == sampleID(i, of) {
				n = is.sample[of]
				list = append(list, a.undiluted(i, of))
			}
			return append(list, working.Uncertainty(n, a.Substances[of].Unit)...), nil
		}
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of this work is what a sample holds of one of the two"}}
}

// lineOf shows how a concentration follows from the readings.
func (a *account) lineOf(i, of int) []working.Line {
	is, unit := a.found[i], a.Substances[of].Unit
	var list []working.Line
	for at, nm := range a.Wavelengths {
		var terms []string
		for _, read := range a.reads[a.part(i, at)] {
			terms = append(terms, working.Term(read.net))
		}
		first, second := a.models[0][at].Intercept, a.models[1][at].Intercept
		list = append(list, working.Line{
			Title:   fmt.Sprintf("What both take out of the light at %g nm", nm),
			Symbol:  fmt.Sprintf(`A_%d`, at+1),
			Formula: fmt.Sprintf(`A_%d = \frac{\sum A}{m} - a_{%d1} - a_{%d2}`, at+1, at+1, at+1),
			Substituted: working.Fill(`A_%d = (\frac{%v}{%d} - %v - %v)`, at+1, working.Sum(terms), len(terms), first, second) +
				working.Unit("AU"),
			Result: working.Digits(a.equation(i, at).A) + " AU",
			From: []string{
				"A: as shown, less the blank",
				fmt.Sprintf("a: the intercepts of the lines of runs %d and %d", a.Substances[0].Lines[at].Number, a.Substances[1].Lines[at].Number),
			},
		})
	}
	e := [2]Equation{a.equation(i, 0), a.equation(i, 1)}
	bottom := working.Fill(`%v \times %v - %v \times %v`, e[0].First, e[1].Second, e[1].First, e[0].Second)
	const under = `b_{11} b_{22} - b_{21} b_{12}`
	own, other := [2]string{`b_{22}`, `b_{12}`}, [2]float64{e[1].Second, e[0].Second}
	formula := `c_1 = \frac{A_1 b_{22} - A_2 b_{12}}{` + under + `}`
	top := working.Fill(`%v \times %v - %v \times %v`, e[0].A, e[1].Second, e[1].A, e[0].Second)
	if of == 1 {
		own, other = [2]string{`b_{21}`, `b_{11}`}, [2]float64{e[1].First, e[0].First}
		formula = `c_2 = \frac{A_2 b_{11} - A_1 b_{21}}{` + under + `}`
		top = working.Fill(`%v \times %v - %v \times %v`, e[1].A, e[0].First, e[0].A, e[1].First)
	}
	symbol := fmt.Sprintf("c_%d", of+1)
	return append(list, working.Line{
		Title: "Its concentration", Symbol: symbol, Formula: formula,
		Substituted: fmt.Sprintf(`%s = \frac{%s}{%s}`, symbol, top, bottom) + working.Unit(unit),
		Result:      working.Digits(is.C[of]) + " " + unit,
		From:        []string{"b: the slopes of the lines, first by wavelength, then by substance"},
	}, working.Line{
		Title: "Standard error by the scatter", Symbol: "s(" + symbol + ")",
		Formula: fmt.Sprintf(`s(%s) = \frac{\sqrt{(%s s_1)^2 + (%s s_2)^2}}{%s}`, symbol, own[0], own[1], under),
		Substituted: working.Fill(`s(%v) = \frac{\sqrt{(%v \times %v)^2 + (%v \times %v)^2}}{%v}`,
			symbol, other[0], is.EquationSE[0], other[1], is.EquationSE[1], bottom) + working.Unit(unit),
		Result: working.Digits(math.Abs(is.SE[of])) + " " + unit,
		From: []string{
			"s₁, s₂: of the readings and of both lines at each wavelength, " + strings.Join([]string{working.Digits(is.EquationSE[0]), working.Digits(is.EquationSE[1])}, " and ") + " AU",
			"what the standards share comes on top, by its sources",
		},
	})
}

func (a *account) undiluted(i, of int) working.Line {
	s, is := a.Samples[i], a.found[i]
	symbol := fmt.Sprintf("c_%d", of+1)
	return working.Line{
		Title: "The sample before it was diluted", Symbol: "c", Formula: `c = F\,` + symbol,
		Substituted: working.Fill(`c = %v \times %v`, s.Diluted, is.C[of]) + working.Unit(a.Substances[of].Unit),
		Result:      working.Result(is.sample[of], a.Substances[of].Unit), From: []string{"F: how many times it had been diluted"},
	}
}
