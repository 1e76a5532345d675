// Package marks marks results by a scheme that a course writes itself: bands for how near a result is to the true value and for how close
// its runs are, points for arithmetic that follows from one's own figures, for digits that fit the uncertainty, and for notes kept. What
// cannot be judged, since there is no true value or there are no runs, is not marked and counts on neither side.
//
// Sources: common practice; a course changes every number.
package marks

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Format names the file of a scheme.
const Format = "vialbench-marks/1"

// Scheme is how the results of a task are marked.
type Scheme struct {
	Format string `json:"format"`
	Title  string `json:"title"`
	Parts  []Part `json:"parts"`
}

// What a part of a scheme looks at.
const (
	Accuracy   = "accuracy"   // the percent error against the true value, by bands
	Precision  = "precision"  // the relative standard deviation of the runs, %, by bands
	Arithmetic = "arithmetic" // whether the result follows from the figures it was worked out from
	Digits     = "digits"     // whether the last digit written fits the uncertainty
	Notes      = "notes"      // whether notes were kept
)

// Part is one thing that is looked at.
type Part struct {
	Of string `json:"of"`
	// Points are what it is worth; with Bands, those of the best of them.
	Points float64 `json:"points"`
	Bands  []Band  `json:"bands,omitempty"`
	// Least is how many notes are wanted; 0 for one.
	Least int `json:"least,omitempty"`
}

// Band gives points to what lies within so many %.
type Band struct {
	Within float64 `json:"within"`
	Points float64 `json:"points"`
}

// Usual is a scheme to begin with.
func Usual() Scheme {
	return Scheme{Format: Format, Title: "Usual marks", Parts: []Part{
		{Of: Accuracy, Points: 40, Bands: []Band{{1, 40}, {2, 30}, {5, 20}, {10, 10}}},
		{Of: Precision, Points: 20, Bands: []Band{{0.5, 20}, {1, 15}, {2, 8}}},
		{Of: Arithmetic, Points: 20},
		{Of: Digits, Points: 10},
		{Of: Notes, Points: 10, Least: 1},
	}}
}

// The bounds of a scheme.
const (
	maxTitle  = 60
	maxBands  = 12
	maxPoints = 1000.0
	maxNotes  = 20
)

// Check reports whether a scheme can be marked by. An error is a verdict.Problems.
func (s Scheme) Check() error {
	var p verdict.Problems
	if s.Format != Format {
		p.Add("/format", "this is no file of marks: its format should be %s", Format)
		return p
	}
	if n := len([]rune(s.Title)); n == 0 || n > maxTitle {
		p.Add("/title", "a scheme has a title of at most %d letters", maxTitle)
	}
	if len(s.Parts) == 0 {
		p.Add("/parts", "a scheme looks at one thing or more: %s, %s, %s, %s, %s", Accuracy, Precision, Arithmetic, Digits, Notes)
	}
	known := map[string]bool{}
	for i, part := range s.Parts {
		field := "/parts/" + strconv.Itoa(i)
		if !slices.Contains([]string{Accuracy, Precision, Arithmetic, Digits, Notes}, part.Of) || known[part.Of] {
			p.Add(field+"/of", "a part looks at %s, %s, %s, %s or %s, each once", Accuracy, Precision, Arithmetic, Digits, Notes)
		}
		known[part.Of] = true
		if !(part.Points > 0 && part.Points <= maxPoints) {
			p.Add(field+"/points", "a part is worth more than 0 and at most %g points", maxPoints)
		}
		if part.Least < 0 || part.Least > maxNotes {
			p.Add(field+"/least", "from 1 to %d notes are wanted", maxNotes)
		}
		part.checkBands(field+"/bands", &p)
	}
	return p.OrNil()
}

func (part Part) checkBands(field string, p *verdict.Problems) {
	banded := part.Of == Accuracy || part.Of == Precision
	switch {
	case !banded && len(part.Bands) > 0:
		p.Add(field, "only accuracy and precision have bands")
	case banded && (len(part.Bands) == 0 || len(part.Bands) > maxBands):
		p.Add(field, "%s has 1 to %d bands, the narrowest first", part.Of, maxBands)
	}
	for i, b := range part.Bands {
		if !(b.Within > 0 && b.Within <= 1000) || i > 0 && b.Within <= part.Bands[i-1].Within {
			p.Add(fmt.Sprintf("%s/%d/within", field, i), "bands go from narrow to wide, each within more %% than the one before")
		}
		if !(b.Points >= 0 && b.Points <= part.Points) || i > 0 && b.Points > part.Bands[i-1].Points {
			p.Add(fmt.Sprintf("%s/%d/points", field, i), "a wider band has no more points than a narrower one, and none more than the part")
		}
	}
}

// Handed is a result as far as marks look at it.
type Handed struct {
	// Error is the percent error against the true value; nil where that is not known.
	Error *float64
	// Runs are the single values of which it is the mean.
	Runs []float64
	// Follows reports whether it follows from its own figures; nil where there are none.
	Follows *bool
	// Half is half a unit of the last digit written, U the expanded uncertainty of what the figures give; 0 where it is not known.
	Half, U float64
	// Notes that were kept; nil where nobody can see, of a result on paper.
	Notes *int
}

// Marked is a result with its marks.
type Marked struct {
	Points float64 `json:"points"`
	Of     float64 `json:"of"`
	Lines  []Line  `json:"lines"`
}

// Line is what one part gives, and why.
type Line struct {
	Of     string  `json:"of"`
	Points float64 `json:"points"`
	Most   float64 `json:"most"` // 0 where it is not marked
	Why    string  `json:"why"`
}

// Mark marks a result.
func (s Scheme) Mark(h Handed) Marked {
	m := Marked{Lines: []Line{}}
	for _, part := range s.Parts {
		line := part.mark(h)
		line.Of = part.Of
		m.Points, m.Of = m.Points+line.Points, m.Of+line.Most
		m.Lines = append(m.Lines, line)
	}
	return m
}

func (part Part) mark(h Handed) Line {
	switch part.Of {
	case Accuracy:
		if h.Error == nil {
			return Line{Why: "not marked: what the bottle held is not known"}
		}
		return part.within(math.Abs(*h.Error), quantity.Signed(*h.Error, 1)+" % off")
	case Precision:
		sd, ok := relativeSD(h.Runs)
		if !ok {
			return Line{Why: "not marked: there are no two runs to compare"}
		}
		return part.within(sd, fmt.Sprintf("%d runs, standard deviation %s %%", len(h.Runs), quantity.Digits(sd, 2)))
	case Arithmetic:
		if h.Follows == nil {
			return Line{Why: "not marked: there are no figures to work it out from"}
		}
		return part.all(*h.Follows, "it follows from their own figures", "it does not follow from their own figures")
	case Digits:
		if !(h.U > 0) {
			return Line{Why: "not marked: the uncertainty is not known"}
		}
		fits, why := digitsFit(h.Half, h.U)
		return part.all(fits, why, why)
	}
	if h.Notes == nil {
		return Line{Why: "not marked: it was written on paper"}
	}
	least := max(1, part.Least)
	share := min(1, float64(*h.Notes)/float64(least))
	why := fmt.Sprintf("%d of %d notes", *h.Notes, least)
	if share == 1 {
		why = "notes kept: " + strconv.Itoa(*h.Notes)
	}
	return Line{Points: part.Points * share, Most: part.Points, Why: why}
}

// within gives the points of the narrowest band that holds x.
func (part Part) within(x float64, why string) Line {
	line := Line{Most: part.Points, Why: why}
	for _, b := range part.Bands {
		if x <= b.Within*(1+1e-9) { // a figure that was worked out lies on the edge by its digits
			line.Points, line.Why = b.Points, why+": within "+quantity.Trim(b.Within)+" %"
			return line
		}
	}
	line.Why += fmt.Sprintf(": beyond %s %%", quantity.Trim(part.Bands[len(part.Bands)-1].Within))
	return line
}

func (part Part) all(is bool, yes, no string) Line {
	if is {
		return Line{Points: part.Points, Most: part.Points, Why: yes}
	}
	return Line{Most: part.Points, Why: no}
}

// relativeSD is the standard deviation of runs in % of their mean; ok is false of fewer than two, or around nothing.
func relativeSD(runs []float64) (sd float64, ok bool) {
	n, mean := float64(len(runs)), 0.0
	for _, x := range runs {
		mean += x / n
	}
	if n < 2 || mean == 0 {
		return 0, false
	}
	for _, x := range runs {
		sd += (x - mean) * (x - mean) / (n - 1)
	}
	return 100 * math.Sqrt(sd) / math.Abs(mean), true
}

// digitsFit reports whether the last digit that was written, of which half is stated, fits the expanded uncertainty: worth no more than
// that, and at most one place beyond its second digit (common practice: the uncertainty with two digits, the result to the same place;
// one more does no harm).
func digitsFit(half, u float64) (fits bool, why string) {
	switch digit, finest := 2*half, math.Pow(10, math.Floor(math.Log10(u))-2); {
	case digit > u*(1+1e-9):
		return false, "too few digits: the last one is worth more than the uncertainty"
	case digit < finest*(1-1e-9):
		return false, "too many digits: the last ones say nothing beside the uncertainty"
	}
	return true, "its digits fit its uncertainty"
}
