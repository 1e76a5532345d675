package readings

import (
	"fmt"
	"math"
	"strings"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Row is one line of the log.
type Row struct {
	// Fact is the ID of the reading.
	Fact   string `json:"fact"`
	Sample string `json:"sample"`
	// Method says how it was found when no meter read it.
	Method string        `json:"method"`
	PH     figure.Figure `json:"pH"`
	// Shown is what the meter showed, or what was seen.
	Shown string `json:"shown"`
	Note  string `json:"note"`
	// Celsius of the sample, as text.
	Celsius string    `json:"celsius"`
	At      time.Time `json:"at"`
	// Check reports whether it stood in a buffer.
	Check bool `json:"check"`
	// Refused reports whether no pH is given: the meter does not read this water, or a colour tells
	// no figure.
	Refused  bool              `json:"refused"`
	Verdicts []verdict.Verdict `json:"verdicts"`

	read electrode.Read
}

// View is what the drawing of a run needs.
type View struct {
	Kind  string `json:"kind"`
	Meter string `json:"meter"`
	// Calibration says which one holds, CalibratedAt since when.
	Calibration  string    `json:"calibration"`
	CalibratedAt time.Time `json:"calibratedAt"`
	Low          float64   `json:"low"`
	High         float64   `json:"high"`
	Rows         []Row     `json:"rows"`
}

type account struct {
	Request
	rows []Row
	// choices of the rows.
	choices []string
	ended   bool
	reason  string
	notes   run.Notes
	reads   []run.Reading
}

// Make implements [run.Plan].
func (r Request) Make(facts []fact.Fact, _ time.Time) (run.Outcome, error) {
	a, err := r.follow(facts)
	if err != nil {
		return run.Outcome{}, err
	}
	return a.outcome(), nil
}

func (r Request) follow(facts []fact.Fact) (*account, error) {
	if err := r.check(); err != nil {
		return nil, err
	}
	a := &account{Request: r, notes: run.NewNotes(len(facts)), rows: []Row{}}
	for _, f := range fact.Standing(facts) {
		switch {
		case f.Kind == KindRead:
			a.take(f)
		case f.Kind == run.KindDecided && f.Choice == choiceEnd:
			a.ended = true
		case f.Kind == run.KindDecided && f.Choice == run.ChoiceStartAgain:
			a.reason = run.GivenUp(f)
		}
	}
	a.mark()
	return a, nil
}

// take adds a line.
func (a *account) take(f fact.Fact) {
	row := Row{Fact: f.ID, Sample: strings.TrimSpace(f.Name), Note: strings.TrimSpace(f.Text), At: f.At}
	switch a.takes(f.Choice) {
	case takesReading, takesCheck:
		a.takeReading(&row, f)
	case takesRange:
		low, high := f.Quantity.Value, f.After.Value
		row.Method, row.Shown = methods[f.Choice], ranged(f)
		row.PH = a.figure(f, uncertain.WithLimits((low+high)/2, (high-low)/2, uncertain.RectangularShape,
			uncertain.Source{ID: "seen " + f.ID, Label: "range seen", Basis: row.Method}))
		if row.Note == "" {
			row.Verdicts = append(row.Verdicts, electrode.RuleColours.Says(verdict.Look, nil, "The colour was not written down: say it in words."))
		}
	case takesBath:
		row.Method, row.Shown, row.Refused = methods[f.Choice], "at "+f.Quantity.String(), true
	default:
		row.Method, row.Refused = methods[f.Choice], true
		if f.Choice == choiceWarmed {
			row.Verdicts = a.judgeWarmed(row)
		} else {
			row.Verdicts = a.judgeLitmus(row, f.Choice)
		}
	}
	a.rows = append(a.rows, row)
	a.choices = append(a.choices, f.Choice)
	a.notes.Add("read", f.ID)
}

func (a *account) figure(f fact.Fact, pH uncertain.Number) figure.Figure {
	return figure.New("reading "+f.ID, "pH", "", pH).As(figure.PH)
}

// takeReading fills in what the meter showed.
func (a *account) takeReading(row *Row, f fact.Fact) {
	c, t := a.Calibration, a.Thresholds
	read := c.Read(f, a.Celsius)
	read.Dilute, read.Sodium = f.Choice == choiceDilute, f.Choice == choiceSodium
	pH := c.PH(read)
	row.read, row.Shown, row.Celsius, row.Refused = read, electrode.Shown(*f.Quantity), quantity.Digits(read.Celsius, 1), read.Dilute
	row.PH = a.figure(f, pH)
	row.Verdicts = c.Doubts(read, pH.Value, f.At, a.CalibratedAt, t)
	if b, ok := a.checkBuffer(f.Choice); ok {
		row.Check, row.Sample = true, b.Name
		if _, v, err := c.Checked(b, read, t); err == nil { // the gate refused what has no value
			row.Verdicts = []verdict.Verdict{v} // the span is no matter in a buffer of it
		}
	}
	instrument := c.Meter.Name
	if f.Instrument != "" {
		instrument = f.Instrument
	}
	a.reads = append(a.reads, run.Reading{Instrument: instrument, At: f.At})
}

// judgeWarmed says whether a tube was in its bath for long enough.
func (a *account) judgeWarmed(row Row) []verdict.Verdict {
	least := a.Thresholds.Of(electrode.RuleWarmed)
	for i := len(a.rows) - 1; i >= 0; i-- {
		if a.choices[i] != choiceBath || !strings.EqualFold(a.rows[i].Sample, row.Sample) {
			continue
		}
		if minutes := row.At.Sub(a.rows[i].At).Minutes(); minutes < least {
			return []verdict.Verdict{
				electrode.RuleWarmed.Says(verdict.Look, nil, "In the bath for %s of %s min: look again when it has come to its temperature.",
					quantity.Digits(math.Floor(minutes), 0), quantity.Digits(least, -1)),
			}
		}
		return nil
	}
	return nil
}

// judgeLitmus says what the papers of a sample tell together.
func (a *account) judgeLitmus(row Row, choice string) []verdict.Verdict {
	papers := map[string]bool{choice: true}
	for i, other := range a.rows {
		if strings.EqualFold(other.Sample, row.Sample) {
			papers[a.choices[i]] = true
		}
	}
	acid, base := papers[choiceBlueTurned], papers[choiceRedTurned]
	says := func(level verdict.Level, sentence string) []verdict.Verdict {
		return []verdict.Verdict{electrode.RuleLitmus.Finds(level, nil, sentence)}
	}
	switch {
	case acid && base:
		return says(verdict.Stop, "Red turned blue and blue turned red: that cannot be one sample. Look at the papers and the vessel.")
	case acid:
		return says(verdict.Fine, "Acid: below about pH 5.")
	case base:
		return says(verdict.Fine, "Alkaline: above about pH 8.")
	case papers[choiceRedStayed] && papers[choiceBlueStayed]:
		return says(verdict.Fine, "Both stayed: about neutral, pH 5 to 8.")
	case papers[choiceRedStayed]:
		return says(verdict.Look, "Not alkaline. Take blue litmus too: it tells acid from neutral.")
	}
	return says(verdict.Look, "Not acid. Take red litmus too: it tells base from neutral.")
}

// mark marks what was read between the last good check and one that failed.
func (a *account) mark() {
	since := 0
	for i, row := range a.rows {
		if !row.Check || len(row.Verdicts) == 0 {
			continue
		}
		if row.Verdicts[0].Level == verdict.Stop {
			for k := since; k < i; k++ {
				if !a.rows[k].Check && a.rows[k].Method == "" {
					a.rows[k].Verdicts = append(a.rows[k].Verdicts, electrode.RuleDrift.Says(
						verdict.Look,
						nil,
						"The check in %s failed, and none was good after this reading: calibrate, and read it again.",
						row.Sample,
					))
				}
			}
		}
		since = i + 1
	}
}

func (a *account) outcome() run.Outcome {
	c := a.Calibration
	out := run.Outcome{Exact: true, Readings: a.reads}
	for _, row := range a.rows {
		if !row.Check && !row.Refused {
			f := row.PH
			f.Label = row.Sample
			out.Figures = append(out.Figures, f)
		}
	}
	if a.ended {
		out.Products = []run.Product{{
			Result: true, From: run.FromSources, Title: a.Title(), Name: a.Name, Exact: true, Figures: out.Figures,
			MadeOf: []string{}, Hazards: []string{}, Readings: a.reads,
		}}
	}
	out.View = View{
		Kind:         Kind,
		Meter:        c.Meter.Name,
		Calibration:  a.says(),
		CalibratedAt: a.CalibratedAt,
		Low:          c.Low(),
		High:         c.High(),
		Rows:         a.rows,
	}
	out.Table = a.table()
	if n := len(a.rows); n > 0 {
		a.notes.Say(
			"read",
			"Read: "+map[bool]string{true: "one sample or buffer", false: quantity.Digits(float64(n), 0) + " samples and buffers"}[n == 1],
		)
	}
	out.Place(a.steps(), &a.notes, a.reason, func(*run.Step) bool { return a.ended })
	return out
}

// table is the log as a table.
func (a *account) table() [][]string {
	list := [][]string{{"time", "sample", "pH", "U (k = 2)", "°C", "shown", "found by", "note", "doubts"}}
	for _, row := range a.rows {
		line := []string{row.At.UTC().Format(time.RFC3339), row.Sample, "", "", row.Celsius, row.Shown, row.Method, row.Note, ""}
		if !row.Refused {
			line[2], line[3] = row.PH.Text, row.PH.UText
		}
		switch {
		case row.Check:
			line[6] = "check of " + a.Calibration.Meter.Name
		case row.Method == "":
			line[6] = a.Calibration.Meter.Name
		}
		var doubts []string
		for _, v := range row.Verdicts {
			if v.Level != verdict.Fine {
				doubts = append(doubts, v.Rule+": "+v.Sentence)
			}
		}
		line[8] = strings.Join(doubts, " ")
		list = append(list, line)
	}
	return list
}

func (a *account) steps() []run.Step {
	celsius := a.Celsius
	for _, row := range a.rows {
		if row.Method == "" {
			celsius = row.read.Celsius
		}
	}
	s := a.Calibration.Meter.Asks(run.Step{
		ID:       "read",
		Title:    "Rinse, blot, into the next sample, bulb covered; wait until it has settled",
		Kind:     KindRead,
		Asks:     true,
		Options:  a.options(),
		Ends:     &verdict.Choice{ID: choiceEnd, Label: "End this log"},
		Hint:     "Check one buffer in the middle and at the end. The slope is corrected for the temperature; the sample is not.",
		Cautions: []string{"The bulb is thin glass: a broken one cuts. Your local rules and the safety data sheets come first."},
	}, celsius, math.NaN())
	s.Input = run.InputSample
	for i, row := range a.rows {
		switch {
		case a.choices[i] == choiceBath:
			s.Clock = &run.Clock{Since: row.At, Minutes: a.Thresholds.Of(electrode.RuleWarmed), What: row.Sample}
		case a.choices[i] == choiceWarmed && s.Clock != nil && strings.EqualFold(row.Sample, s.Clock.What):
			s.Clock = nil // it was looked at
		}
	}
	return []run.Step{s}
}

// Explain implements [run.Plan]: a figure is that of a reading, like “reading 0197…”.
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	for _, row := range a.rows {
		switch {
		case row.PH.ID != figureID || row.Refused && row.Method != "":
		case row.Method != "":
			return a.explainRange(row), nil
		default:
			return a.explain(row), nil
		}
	}
	return nil, verdict.Problems{{Field: "/figure", Reason: "a figure of a log is that of one of its readings"}}
}

func (a *account) explain(row Row) []working.Line {
	return a.Calibration.Lines("pH of "+row.Sample, row.read, row.Shown, a.says())
}

// explainRange shows the result of a range that was seen.
func (a *account) explainRange(row Row) []working.Line {
	u := row.PH.U()
	low, high := row.PH.Value-u*math.Sqrt(3), row.PH.Value+u*math.Sqrt(3)
	return []working.Line{{
		Title: "pH of " + row.Sample, Symbol: `\mathrm{pH}`, Formula: `\mathrm{pH} = \frac{\mathrm{pH}_1 + \mathrm{pH}_2}{2}`,
		Substituted: fmt.Sprintf(`\mathrm{pH} = \frac{%.2f + %.2f}{2}`, low, high), Result: working.Result(row.PH.Number, ""),
		From: []string{row.Method + ": " + row.Shown, "anywhere in between is as likely: the limits of the uncertainty"},
	}}
}
