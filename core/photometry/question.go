package photometry

import (
	"math"
	"slices"
	"strconv"

	"vialbench/core/verdict"
)

func (q Question) check() error {
	var p verdict.Problems
	n := len(q.X)
	if n < 3 || n > mostReadings {
		p.Add("/x", "a line is judged by 3 to %d readings: two give no scatter", mostReadings)
	}
	if len(q.Y) != n {
		p.Add("/y", "there are %d concentrations and %d absorbances", n, len(q.Y))
	}
	for i, x := range q.X {
		if !(x >= 0 && !math.IsInf(x, 0)) {
			p.Add("/x/"+strconv.Itoa(i), "a concentration is nothing or more")
		}
	}
	for i, y := range q.Y {
		checkAbsorbance(y, "/y/"+strconv.Itoa(i), &p)
	}
	if len(q.Names) > 0 && len(q.Names) != n {
		p.Add("/names", "there are %d readings and %d names", n, len(q.Names))
	}
	if n > 0 && slices.Max(q.X) == slices.Min(q.X) {
		p.Add("/x", "the standards are all of one concentration: a line needs several")
	}
	if len(q.XCovariance) > 0 {
		q.checkCovariance(&p)
	}
	if q.Scatter != nil {
		q.Scatter.Check("/scatter", &p)
	}
	if len(q.Unknowns) > mostUnknowns {
		p.Add("/unknowns", "at most %d unknowns are read from one line", mostUnknowns)
	}
	for i, u := range q.Unknowns {
		of := "/unknowns/" + strconv.Itoa(i) + "/readings"
		if len(u.Readings) < 1 || len(u.Readings) > mostReplies {
			p.Add(of, "an unknown is read 1 to %d times", mostReplies)
		}
		for k, y := range u.Readings {
			checkAbsorbance(y, of+"/"+strconv.Itoa(k), &p)
		}
	}
	return p.OrNil()
}

func checkAbsorbance(y float64, field string, p *verdict.Problems) {
	if !(math.Abs(y) <= strongest) {
		p.Add(field, "an absorbance lies between −%g and %g: is it a transmittance in %%?", strongest, strongest)
	}
}

// checkCovariance wants a symmetric matrix of the size of the readings, with a variance of nothing or more for each.
func (q Question) checkCovariance(p *verdict.Problems) {
	n := len(q.X)
	if len(q.XCovariance) != n {
		p.Add("/xCovariance", "the covariance has a row for each of the %d readings", n)
		return
	}
	for i, row := range q.XCovariance {
		field := "/xCovariance/" + strconv.Itoa(i)
		if len(row) != n {
			p.Add(field, "a row has %d values", n)
			return
		}
		for k, v := range row {
			if math.IsNaN(v) || math.IsInf(v, 0) || k < len(q.XCovariance) && len(q.XCovariance[k]) == n && math.Abs(v-q.XCovariance[k][i]) > 1e-9*math.Abs(v) {
				p.Add(field, "it is symmetric, and all of it numbers")
				return
			}
		}
		if !(row[i] >= 0) {
			p.Add(field, "a variance is nothing or more")
		}
	}
}
