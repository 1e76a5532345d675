package comparison

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/stat"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Question asks how the results of a class compare. All values are in one unit.
type Question struct {
	Unit    string   `json:"unit"`
	Results []Result `json:"results"`
	// Shared reports whether all had the same bottle: then the results themselves are compared, else their errors.
	Shared     bool               `json:"shared,omitempty"`
	Thresholds verdict.Thresholds `json:"thresholds,omitempty"`
}

// Result is what one group found.
type Result struct {
	Group string  `json:"group"`
	Value float64 `json:"value"`
	// U is its expanded uncertainty (k = 2), 0 where it is not known.
	U float64 `json:"U,omitempty"`
	// True is what its bottle held, with TrueU; nil where nobody knows.
	True  *float64 `json:"true,omitempty"`
	TrueU float64  `json:"trueU,omitempty"`
	// Runs are the single values that it is the mean of, where they are known.
	Runs []float64 `json:"runs,omitempty"`
}

// Compared is what a comparison gives.
type Compared struct {
	Rows []Row `json:"rows"`
	// Of says what is compared: “results”, or “percent errors” where each had a bottle of its own.
	Of   string `json:"of"`
	Unit string `json:"unit"` // of what follows
	// Mean and SD are the plain ones.
	Mean   float64 `json:"mean"`
	SD     float64 `json:"sd"`
	Median float64 `json:"median"`
	MAD    float64 `json:"mad"`
	// A is by Algorithm A, Q by the Q method with Hampel's mean.
	A        Robust            `json:"algorithmA"`
	Q        Robust            `json:"hampel"`
	UMean    float64           `json:"uMean"` // standard uncertainty of the robust mean
	Verdicts []verdict.Verdict `json:"verdicts"`
}

// Row is one group beside the others.
type Row struct {
	Group string `json:"group"`
	// Error is the percent error, signed, and En how far off in units of both uncertainties; nil where they have no base.
	Error *float64 `json:"error,omitempty"`
	En    *float64 `json:"En,omitempty"`
	// Z and Zeta are against the class; nil where the results do not scatter, or there is only one.
	Z    *float64 `json:"z,omitempty"`
	Zeta *float64 `json:"zeta,omitempty"`
	// RunMean and RunSD are of the single runs, where there are two or more.
	RunMean *float64 `json:"runMean,omitempty"`
	RunSD   *float64 `json:"runSD,omitempty"`
	// Off reports whether the result disagrees with its true value or, without one, with the others.
	Off bool `json:"off"`
}

// The bounds of a comparison.
const (
	MostGroups = 60
	MostRuns   = 50
)

// Check reports what cannot be compared, as verdict.Problems.
func (q Question) Check() error {
	var p verdict.Problems
	if len(q.Results) == 0 || len(q.Results) > MostGroups {
		p.Add("/results", "from 1 to %d results can be compared", MostGroups)
		return p
	}
	known := map[string]bool{}
	for i, r := range q.Results {
		field := "/results/" + strconv.Itoa(i)
		name := strings.TrimSpace(r.Group)
		if name == "" || known[name] {
			p.Add(field+"/group", "each group needs a name of its own")
		}
		known[name] = true
		if !finite(r.Value) {
			p.Add(field+"/value", "the result of %s is no number", r.Group)
		}
		if !finite(r.U) || r.U < 0 || !finite(r.TrueU) || r.TrueU < 0 {
			p.Add(field+"/U", "an uncertainty is 0 or more, in %s", q.Unit)
		}
		if r.True != nil && (!finite(*r.True) || *r.True == 0) {
			p.Add(field+"/true", "a true value of nothing has no percent error")
		}
		if len(r.Runs) > MostRuns {
			p.Add(field+"/runs", "a result has at most %d runs", MostRuns)
		}
		if r.True == nil && !q.Shared && len(q.Results) > 1 {
			p.Add(field+"/true", "say what the bottle of %s held, or that all had the same", r.Group)
		}
	}
	return p.OrNil()
}

func finite(x float64) bool { return math.Abs(x) <= math.MaxFloat64 }

// Compare compares the results of a class. An error is a verdict.Problems.
func Compare(q Question) (Compared, error) {
	if err := q.Check(); err != nil {
		return Compared{}, err
	}
	c := Compared{Of: "results", Unit: q.Unit, Verdicts: []verdict.Verdict{}}
	compared := make([]float64, len(q.Results)) // with their standard uncertainties
	us := make([]float64, len(q.Results))
	for i, r := range q.Results {
		row := r.against(q.Thresholds)
		compared[i], us[i] = r.Value, r.U/2
		if !q.Shared && row.Error != nil {
			compared[i], us[i] = *row.Error, math.Abs(100 / *r.True)*math.Hypot(r.U, r.TrueU)/2
		}
		c.Rows = append(c.Rows, row)
	}
	if !q.Shared && len(q.Results) > 0 && q.Results[0].True != nil {
		c.Of, c.Unit = "percent errors", "%"
	}
	c.Mean, c.Median = stat.Mean(compared, nil), Median(compared)
	c.A, c.Q = Robust{Mean: c.Mean}, Robust{Mean: c.Mean}
	if len(compared) < 2 {
		return c, nil
	}
	c.SD, c.MAD, c.A, c.Q = stat.StdDev(compared, nil), MAD(compared), AlgorithmA(compared), Hampel(compared)
	c.UMean = 1.25 * c.A.SD / math.Sqrt(float64(len(compared)))
	c.score(q, compared, us)
	c.common(q)
	return c, nil
}

// against compares a result with the true value of its bottle, and says how its runs scatter.
func (r Result) against(th verdict.Thresholds) Row {
	row := Row{Group: r.Group}
	if r.True != nil {
		e := 100 * (r.Value - *r.True) / *r.True
		row.Error = &e
		if both := math.Hypot(r.U, r.TrueU); both > 0 {
			en := (r.Value - *r.True) / both
			row.En = &en
			row.Off = math.Abs(en) > th.Of(RuleTrue)
		}
	}
	if len(r.Runs) > 1 {
		mean, sd := stat.MeanStdDev(r.Runs, nil)
		row.RunMean, row.RunSD = &mean, &sd
	}
	return row
}

// score sets z and ζ. Two results have no class to stand against.
func (c *Compared) score(q Question, compared, us []float64) {
	if c.A.SD == 0 || len(compared) < 3 {
		return
	}
	var off []string
	for i := range c.Rows {
		z := (compared[i] - c.A.Mean) / c.A.SD
		zeta := (compared[i] - c.A.Mean) / math.Hypot(us[i], c.UMean)
		c.Rows[i].Z, c.Rows[i].Zeta = &z, &zeta
		if math.Abs(z) <= q.Thresholds.Of(RuleApart) {
			continue
		}
		off = append(off, c.Rows[i].Group)
		c.Rows[i].Off = c.Rows[i].Off || c.Rows[i].En == nil
	}
	if len(off) > 0 {
		c.Verdicts = append(c.Verdicts, RuleApart.Says(verdict.Look, nil, "Unlike the others: %s.", strings.Join(off, ", ")))
	}
}

// common reports whether all are off together.
func (c *Compared) common(q Question) {
	var errors []float64
	uTrue := 0.0
	for i, r := range q.Results {
		if e := c.Rows[i].Error; e != nil {
			errors = append(errors, *e)
			uTrue = max(uTrue, math.Abs(100*r.TrueU / *r.True)/2)
		}
	}
	if len(errors) < 3 {
		return
	}
	a := AlgorithmA(errors)
	u := math.Hypot(1.25*a.SD/math.Sqrt(float64(len(errors))), uTrue)
	if math.Abs(a.Mean) <= q.Thresholds.Of(RuleCommon)*u {
		return
	}
	side := "high"
	if a.Mean < 0 {
		side = "low"
	}
	c.Verdicts = append(c.Verdicts, RuleCommon.Finds(verdict.Look, nil, fmt.Sprintf(
		"The class is too %s as a whole, by about %s %%: suspect the stock or the value it is compared with, before anybody's work.",
		side, quantity.Trim(quantity.Significant(math.Abs(a.Mean), 2)))))
}
