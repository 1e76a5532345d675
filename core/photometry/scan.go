package photometry

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"gonum.org/v1/gonum/interp"
	"gonum.org/v1/gonum/mat"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// ScanQuestion asks where a solution absorbs most.
type ScanQuestion struct {
	// X are wavelengths in nm, in any order, Y the absorbances there.
	X []float64 `json:"x"`
	Y []float64 `json:"y"`
	// Blank is what the blank absorbs at the same wavelengths, against water; none where nobody looked.
	Blank []float64 `json:"blank,omitempty"`
	// Noise is the standard deviation of a reading in AU; 0 counts as 0.002, what the last digit shows.
	Noise float64 `json:"noise,omitempty"`
	// From and To are the ends of what lamp and filters reach, in nm; 0 where they set no end.
	From       float64            `json:"from,omitempty"`
	To         float64            `json:"to,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Peak is a maximum.
type Peak struct {
	X float64 `json:"x"` // nm
	U float64 `json:"u"` // standard uncertainty, nm
	Y float64 `json:"y"` // absorbance at it
	// Flat is how far from it, in nm, the absorbance falls by 1 %.
	Flat float64 `json:"flat"`
	// Absorbed and Seen are the colour that is taken out and the one that is left; empty outside of what the eye sees.
	Absorbed string `json:"absorbed,omitempty"`
	Seen     string `json:"seen,omitempty"`
}

// ScanAnswer is a scan, joined and judged.
type ScanAnswer struct {
	// Peaks are the maxima, the highest first; none where the highest reading is the first or the last one.
	Peaks []Peak `json:"peaks"`
	// Measure is the wavelength to measure at, nm; 0 of none.
	Measure float64 `json:"measure"`
	// CurveX and CurveY join the readings.
	CurveX   []float64         `json:"curveX"`
	CurveY   []float64         `json:"curveY"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Bounds of a scan.
const (
	mostPoints  = 100_000
	curvePoints = 400
	usualNoise  = 0.002
	// prominent is how far a maximum stands out, as a part of the highest reading.
	prominent = 0.03
	// reach is how far around a reading it must be the highest, nm.
	reach = 12.0
)

// Scan finds the maxima between the readings. An error is a verdict.Problems.
//
// A maximum is that of a parabola through the readings within 5 % of the highest (at least three), by least squares:
//
//	λ = λᵢ − h·b/(2c),   A = a + b·t + c·t²,   t = (λ − λᵢ)/h
//
// Its uncertainty holds the scatter of the readings and, of three readings, how far the maximum of an Akima spline through all
// readings lies from it (limits, rectangular): that is what the spacing leaves open.
func Scan(q ScanQuestion) (ScanAnswer, error) {
	s, err := q.sorted()
	if err != nil {
		return ScanAnswer{}, err
	}
	answer := ScanAnswer{Peaks: []Peak{}, Verdicts: []verdict.Verdict{}}
	var spline interp.AkimaSpline
	if err := spline.Fit(s.X, s.Y); err != nil {
		return answer, verdict.Problems{{Field: "/x", Reason: err.Error()}}
	}
	answer.CurveX, answer.CurveY = s.curve(&spline)
	for _, i := range s.tops() {
		answer.Peaks = append(answer.Peaks, s.peak(i, &spline))
	}
	slices.SortStableFunc(answer.Peaks, func(a, b Peak) int {
		switch {
		case a.Y > b.Y:
			return -1
		case a.Y < b.Y:
			return 1
		}
		return 0
	})
	s.judge(&answer)
	return answer, nil
}

func (q ScanQuestion) check() error {
	var p verdict.Problems
	n := len(q.X)
	if n < 4 || n > mostPoints {
		p.Add("/x", "a scan has 4 to %d readings", mostPoints)
	}
	if len(q.Y) != n || len(q.Blank) != 0 && len(q.Blank) != n {
		p.Add("/y", "there are %d wavelengths, %d absorbances and %d of the blank", n, len(q.Y), len(q.Blank))
	}
	if !(q.Noise >= 0 && q.Noise <= 0.5) {
		p.Add("/noise", "the noise of a reading is 0 to 0.5 AU")
	}
	for i, x := range q.X {
		if !(x >= 180 && x <= 3300) {
			p.Add("/x/"+strconv.Itoa(i), "a wavelength is in nm, from 180 to 3300")
			break
		}
	}
	for i, y := range q.Y {
		if !(math.Abs(y) <= strongest) {
			checkAbsorbance(y, "/y/"+strconv.Itoa(i), &p)
			break
		}
	}
	return p.OrNil()
}

// sorted checks the question and puts it in the order of wavelengths.
func (q ScanQuestion) sorted() (ScanQuestion, error) {
	if err := q.check(); err != nil {
		return q, err
	}
	n := len(q.X)
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case q.X[a] < q.X[b]:
			return -1
		case q.X[a] > q.X[b]:
			return 1
		}
		return 0
	})
	s := q
	s.X, s.Y, s.Blank = make([]float64, n), make([]float64, n), nil
	for to, from := range order {
		s.X[to], s.Y[to] = q.X[from], q.Y[from]
		if len(q.Blank) > 0 {
			s.Blank = append(s.Blank, q.Blank[from])
		}
		if to > 0 && s.X[to] == s.X[to-1] {
			twice := fmt.Sprintf("%g nm stands there twice: read each wavelength once", q.X[from])
			return s, verdict.Problems{{Field: "/x/" + strconv.Itoa(from), Reason: twice}}
		}
	}
	if s.Noise == 0 {
		s.Noise = usualNoise
	}
	return s, nil
}

// curve joins the readings.
func (q ScanQuestion) curve(spline *interp.AkimaSpline) (x, y []float64) {
	first, last := q.X[0], q.X[len(q.X)-1]
	for i := range curvePoints + 1 {
		at := first + (last-first)*float64(i)/curvePoints
		x, y = append(x, at), append(y, spline.Predict(at))
	}
	return x, y
}

// tops are the readings that stand out, by their places: the highest of their surroundings, not at the ends.
func (q ScanQuestion) tops() (list []int) {
	n := len(q.X)
	high, low := slices.Max(q.Y), slices.Min(q.Y)
	for i := 1; i < n-1; {
		from, to := i-1, i+1
		for from > 0 && q.X[i]-q.X[from-1] <= reach {
			from--
		}
		for to < n-1 && q.X[to+1]-q.X[i] <= reach {
			to++
		}
		is := true
		for k := from; k <= to && is; k++ {
			is = q.Y[k] < q.Y[i] || k >= i && q.Y[k] == q.Y[i]
		}
		if !is {
			i++
			continue
		}
		left, right := slices.Min(q.Y[:i]), slices.Min(q.Y[i+1:])
		if q.Y[i]-max(left, right) > max(prominent*(high-low), 3*q.Noise) {
			list = append(list, i)
		}
		i = to
	}
	return list
}

// peak is the maximum around a reading.
func (q ScanQuestion) peak(i int, spline *interp.AkimaSpline) Peak {
	from, to := i-1, i+1
	for from > 0 && q.Y[from-1] >= 0.95*q.Y[i] && q.Y[i] > 0 {
		from--
	}
	for to < len(q.X)-1 && q.Y[to+1] >= 0.95*q.Y[i] && q.Y[i] > 0 {
		to++
	}
	n := to - from + 1
	h := (q.X[to] - q.X[from]) / 2
	design, y := mat.NewDense(n, 3, nil), mat.NewVecDense(n, nil)
	for k := range n {
		t := (q.X[from+k] - q.X[i]) / h
		design.SetRow(k, []float64{1, t, t * t})
		y.SetVec(k, q.Y[from+k])
	}
	var p mat.VecDense
	if err := p.SolveVec(design, y); err != nil || !(p.AtVec(2) < 0) {
		return q.named(Peak{X: q.X[i], U: h / math.Sqrt(3), Y: q.Y[i]})
	}
	a, b, c := p.AtVec(0), p.AtVec(1), p.AtVec(2)
	t := max((q.X[from]-q.X[i])/h, min((q.X[to]-q.X[i])/h, -b/(2*c)))
	variance := q.Noise * q.Noise
	if n > 3 {
		rss := 0.0
		for k := range n {
			r := y.AtVec(k) - mat.Dot(design.RowView(k), &p)
			rss += r * r
		}
		variance = rss / float64(n-3)
	}
	var normal, inverse mat.Dense
	normal.Mul(design.T(), design)
	u := 0.0
	if err := inverse.Inverse(&normal); err == nil {
		db, dc := -1/(2*c), b/(2*c*c)
		u = h * math.Sqrt(max(0, variance*(db*db*inverse.At(1, 1)+2*db*dc*inverse.At(1, 2)+dc*dc*inverse.At(2, 2))))
	}
	x := q.X[i] + t*h
	if n == 3 {
		u = math.Hypot(u, math.Abs(x-top(spline, q.X[from], q.X[to]))/math.Sqrt(3))
	}
	top := a + b*t + c*t*t
	return q.named(Peak{X: x, U: u, Y: top, Flat: h * math.Sqrt(max(0, 0.01*top/-c))})
}

// top is where a curve is highest between two wavelengths.
func top(spline *interp.AkimaSpline, from, to float64) float64 {
	const parts = 400
	best, at := math.Inf(-1), from
	for i := range parts + 1 {
		x := from + (to-from)*float64(i)/parts
		if y := spline.Predict(x); y > best {
			best, at = y, x
		}
	}
	return at
}

func (q ScanQuestion) named(p Peak) Peak {
	p.Absorbed, p.Seen = Colours(p.X)
	return p
}

// Colours are the colour of light of a wavelength in nm, and the one that is left when a narrow band takes it out; empty
// outside of 400 to 730 nm. A broad band leaves another one: iron(III) with thiocyanate, at 450 nm, looks red. Common practice.
func Colours(nm float64) (absorbed, seen string) {
	for _, c := range []struct {
		to             float64
		absorbed, seen string
	}{
		{400, "", ""},
		{435, "violet", "yellow-green"},
		{480, "blue", "yellow"},
		{490, "green-blue", "orange"},
		{500, "blue-green", "red"},
		{560, "green", "purple"},
		{580, "yellow-green", "violet"},
		{595, "yellow", "blue"},
		{605, "orange", "green-blue"},
		{730, "red", "blue-green"},
	} {
		if nm < c.to {
			return c.absorbed, c.seen
		}
	}
	return "", ""
}

// judge chooses where to measure, and says why.
func (q ScanQuestion) judge(a *ScanAnswer) {
	add := func(r verdict.Rule, level verdict.Level, format string, args ...any) {
		a.Verdicts = append(a.Verdicts, r.Says(level, nil, format, args...))
	}
	n := len(q.X)
	highest := slices.Index(q.Y, slices.Max(q.Y))
	within := func(x float64) bool { return x >= q.From && (q.To == 0 || x <= q.To) }
	i := slices.IndexFunc(a.Peaks, func(p Peak) bool { return within(p.X) })
	switch {
	case highest == 0 || highest == n-1:
		add(RuleEdge, verdict.Stop, "The highest reading stands at the end, at %g nm: go on until it falls again.", q.X[highest])
	case len(a.Peaks) == 0:
		add(RuleEdge, verdict.Stop, "No reading stands out: scan a stronger solution, or over more of the range.")
		return
	}
	if i < 0 {
		if len(a.Peaks) > 0 {
			add(RuleEdge, verdict.Look, "No maximum lies within what the lamp reaches.")
		}
		return
	}
	best := a.Peaks[i]
	a.Measure = math.Round(best.X)
	if i > 0 {
		add(RuleEdge, verdict.Look, "The highest maximum, at %s nm, lies outside of what the lamp reaches: this is the next one.", quantity.Digits(a.Peaks[0].X, 0))
	}
	if most := q.Thresholds.Of(RuleStrong); best.Y > most {
		add(RuleStrong, verdict.Look, "Absorbance %s at the top, more than %g: dilute it, stray light flattens the top.", quantity.Digits(best.Y, 2), most)
	}
	spacing := q.spacing(best.X)
	says := fmt.Sprintf("Measure at %g nm: the maximum lies at %s ± %s nm, between the readings.", a.Measure, quantity.Digits(best.X, 1), quantity.Digits(2*best.U, 1))
	switch {
	case best.Flat > 0 && spacing > 2*best.Flat && spacing > 5:
		add(RuleTop, verdict.Look, "%s The readings lie %g nm apart and the top is %s nm wide: read closer together around it.",
			says, quantity.Nominal(spacing), quantity.Digits(2*best.Flat, 0))
	default:
		add(RuleTop, verdict.Fine, "%s Within ± %s nm of it the absorbance falls by less than 1 %%.", says, quantity.Digits(best.Flat, 0))
	}
	if most := q.Thresholds.Of(RuleBlankAbsorbs); q.blankAt(best.X) > most {
		add(RuleBlankAbsorbs, verdict.Look, "The blank itself absorbs %s there, more than %g: less light is left to measure with.",
			quantity.Digits(q.blankAt(best.X), 3), most)
	}
}

// spacing is how far the readings lie apart around a wavelength.
func (q ScanQuestion) spacing(nm float64) float64 {
	for k := 1; k < len(q.X); k++ {
		if q.X[k-1] <= nm && nm <= q.X[k] {
			return q.X[k] - q.X[k-1]
		}
	}
	return q.X[len(q.X)-1] - q.X[0]
}

// blankAt is what the blank absorbs at the reading next to a wavelength; 0 where nobody looked.
func (q ScanQuestion) blankAt(nm float64) float64 {
	if len(q.Blank) == 0 {
		return 0
	}
	k := 0
	for i, x := range q.X {
		if math.Abs(x-nm) < math.Abs(q.X[k]-nm) {
			k = i
		}
	}
	return q.Blank[k]
}
