package absorbance

import (
	"fmt"
	"strconv"
	"strings"

	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func cellStep(i int) string     { return fmt.Sprintf("cell %d", i) }
func blankStep(i int) string    { return fmt.Sprintf("blank %d", i) }
func readStep(part int) string  { return fmt.Sprintf("read %d", part) }
func warmStep(of int) string    { return fmt.Sprintf("warm %d", of) }
func guessStep(part int) string { return fmt.Sprintf("guess %d", part) }

const judgeStep = "judge"

// isDone reports whether nothing is asked for at a step any more.
func (a *account) isDone(s *run.Step) bool {
	kind, number, _ := strings.Cut(s.ID, " ")
	i, _ := strconv.Atoi(number) //nolint:errcheck // made above
	switch kind {
	case "cell":
		return a.cells[i] != nil
	case "blank":
		return i < len(a.blanks)
	case "guess":
		return a.guess[i] != "" || len(a.reads[i]) > 0
	case "warm":
		return a.warm[i] != nil
	case "read":
		return a.done(i)
	}
	return a.ended
}

// offers are what may be decided at any time.
func (a *account) offers() (list []run.Offer) {
	if len(a.blanks) > 0 && a.wanted == len(a.blanks) {
		list = append(list, run.Offer{Choice: verdict.Choice{ID: choiceBlank, Label: "Set the blank again"}})
	}
	for _, part := range a.order() {
		if len(a.reads[part]) == 0 || !a.done(part) {
			continue
		}
		list = append(list, run.Offer{Choice: verdict.Choice{ID: choiceAgain, Label: "Read " + a.vessel(part) + " once more"}, Part: part})
		if a.unknown(part) < 0 && a.struck[part] == "" {
			list = append(list, run.Offer{Choice: verdict.Choice{ID: choiceStrike, Label: "Strike " + a.vessel(part)}, Part: part})
		}
	}
	return list
}

// steps are the sheet.
func (a *account) steps(verdicts []verdict.Verdict) []run.Step {
	var list []run.Step
	for i := 1; i < a.Cells; i++ {
		list = append(list, a.shows(run.Step{
			ID: cellStep(i), Part: i, Kind: KindCell, Title: fmt.Sprintf("Set cell 1 to zero with the blank in it, then read cell %d with the blank", i+1),
			Hint: "All cells full of the same blank, clear sides in the beam and wiped. The difference comes off every reading.", Verdicts: a.matched(i),
		}))
	}
	for i := range max(a.wanted, len(a.blanks)) {
		list = append(list, a.shows(run.Step{
			ID: blankStep(i), Kind: KindBlank, Title: fmt.Sprintf("Set %g nm; with the blank in the cell set zero, then read it", a.Wavelength),
			Expects: "0.000 AU", Tares: a.Photometer != nil, Molar: new(float64),
			Hint: "The blank has everything in it but what is measured: the same reagents, the same solvent, the same cell, the same side to the lamp.",
		}))
	}
	order := a.order()
	if a.Guess {
		for _, part := range order[len(a.Standards):] {
			list = append(list, a.guessStep(part))
		}
	}
	for i, part := range order {
		if a.Warm && i == 0 && a.unknown(part) < 0 {
			list = append(list, warmthStep(ofStandards))
		}
		if a.Warm && a.unknown(part) == 0 {
			list = append(list, warmthStep(ofUnknowns))
		}
		list = append(list, a.readStep(part))
	}
	return append(list, a.judgeStep(verdicts))
}

// warmthStep asks for the temperature of what is read next.
func warmthStep(of int) run.Step {
	return run.Step{
		ID: warmStep(of), Part: of, Kind: KindWarm, Asks: true, Input: run.InputQuantity, Label: "Temperature", Unit: "°C",
		Dimensions: []quantity.Dimension{quantity.Temperature}, Title: "Read the " + warmName(of),
		Hint: "In a tube of the rack that has stood beside the photometer as long as the others, with a clean thermometer.",
	}
}

// shows fills in what every reading of a photometer asks for.
func (a *account) shows(s run.Step) run.Step {
	s.Asks, s.Input, s.Label, s.Unit, s.Dimensions = true, run.InputQuantity, "Absorbance shown", "AU", shown
	s.Remarks = photometry.Remarks()
	s.Instrument, s.Wavelength = a.Photometer.Named(), a.Wavelength
	s.Cautions = []string{"Wear goggles and gloves; what the reagents are decides the rest. Your local rules, the safety data sheet and licensed waste handling come first."}
	return s
}

// matched judges how far a cell is from the first one.
func (a *account) matched(i int) []verdict.Verdict {
	if a.cells[i] == nil {
		return nil
	}
	off, most := photometry.Shown(*a.cells[i].Quantity), a.Thresholds.Of(photometry.RuleCells)
	if off <= most && off >= -most {
		return nil
	}
	return []verdict.Verdict{photometry.RuleCells.Says(verdict.Look, nil, "Cell %d differs by %s AU, more than %s: clean it, or leave it out.",
		i+1, quantity.Digits(off, 3), quantity.Digits(most, -1))}
}

func (a *account) guessStep(part int) run.Step {
	s := run.Step{
		ID: guessStep(part), Part: part, Kind: KindGuessed, Asks: true, Input: run.InputChoice,
		Title: fmt.Sprintf("Look at %s beside the standards: where does it lie?", a.vessel(part)),
		Hint:  "Against a white ground, in the same kind of tube. It is compared with the reading afterwards.",
	}
	for _, id := range a.guesses() {
		s.Options = append(s.Options, verdict.Choice{ID: id, Label: run.UpperFirst(a.sayGuess(id))})
	}
	return s
}

func (a *account) readStep(part int) run.Step {
	title := run.UpperFirst(a.vessel(part))
	if a.unknown(part) < 0 && a.Standards[part].Number > 0 {
		title += ", " + say(a.Standards[part].Concentration, a.Unit)
	}
	if a.Cells > 1 {
		title += fmt.Sprintf(", in cell %d", a.cell(part)+1)
	}
	if n := a.Replicates + a.again[part]; n > 1 {
		title += fmt.Sprintf(": reading %d of %d", min(n, len(a.reads[part])+1), n)
	}
	s := a.shows(run.Step{ID: readStep(part), Part: part, Kind: KindRead, Title: title, Verdicts: a.doubts(part)})
	if factor, ok := molar(a.Unit); ok && a.unknown(part) < 0 && a.Additions == nil {
		is := factor * a.Standards[part].Concentration.Value
		s.Molar = &is
	}
	if i := a.unknown(part); i < 0 && a.answer != nil && a.Earlier == nil {
		y, _ := a.answer.Line.At(a.Standards[part].Concentration.Value)
		s.Expects = quantity.Digits(y, 3) + " AU"
	}
	if i := a.unknown(part); i < 0 && s.Expects == "" && a.Before != nil && a.Additions == nil {
		s.Expects = quantity.Digits(a.Before.at(a.Standards[part].Concentration.Value), 2) + " AU"
	}
	s.Hint = "Rinse the cell with a little of it first. No bubbles, no fingerprints, the marked side to the lamp."
	return s
}

// judgeStep is where a person looks at the line and keeps it.
func (a *account) judgeStep(verdicts []verdict.Verdict) run.Step {
	s := run.Step{ID: judgeStep, Kind: run.KindDecided, Input: run.InputChoice, Title: "Look at the line and at what is off it, then keep it"}
	choice := verdict.Choice{ID: choiceEnd, Label: "Keep this line"}
	if a.Additions != nil {
		choice.Label = "Keep this result"
	}
	if a.Earlier != nil {
		s.Title, choice.Label = "Look at what was read, then keep it", "Keep these readings"
	}
	s.Verdicts = append(s.Verdicts, verdicts...)
	if len(s.Verdicts) == 0 {
		s.Verdicts = []verdict.Verdict{photometry.RulePoints.Finds(verdict.Stop, nil, "There is no line: "+a.not)}
	}
	s.Verdicts[0].Choices = []verdict.Choice{choice}
	return s
}
