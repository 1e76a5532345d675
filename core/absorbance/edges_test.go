package absorbance_test

import (
	"errors"
	"math"
	"strings"
	"testing"

	"vialbench/core/absorbance"
	"vialbench/core/photometry"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// The report draws the readings where they are, the line with its band, what lies off it, and hollow what was struck.
func TestPlotsOfTheReport(t *testing.T) {
	b := measured(t, six())
	b.decide("strike", 3, "a bubble")
	out, v := b.out()
	if len(out.Plots) != 2 {
		t.Fatalf("%d plots", len(out.Plots))
	}
	main, rest := out.Plots[0], out.Plots[1]
	if main.XLabel != "mg/L P" || main.YLabel != "absorbance at 880 nm" || rest.YLabel != "AU off the line" {
		t.Errorf("%+v", main)
	}
	l := v.Line
	counting := []int{0, 1, 2, 4, 5}
	if len(main.Points) != 5 || len(rest.Points) != 5 || len(main.Hollow) != 1 || main.Hollow[0] != [2]float64{3, 0.352} {
		t.Fatalf("%+v", main)
	}
	shown := []float64{0.004, 0.121, 0.239, 0.352, 0.474, 0.590}
	for i, k := range counting {
		c := float64(k)
		near(t, "c", main.Points[i][0], c, 1e-12)
		near(t, "A", main.Points[i][1], shown[k], 1e-12)
		near(t, "off the line", rest.Points[i][1], shown[k]-l.Intercept-l.Slope*c, 1e-12)
	}
	n := len(main.Lines[0])
	first, last := main.Lines[0][0], main.Lines[0][n-1]
	near(t, "the line begins", first[0], 0, 0)
	near(t, "at its intercept", first[1], l.Intercept, 1e-12)
	near(t, "and ends beyond the strongest", last[0], 5*1.08, 1e-12)
	near(t, "on the line", last[1], l.Intercept+l.Slope*5.4, 1e-12)
	area := main.Areas[0]
	if len(area) != 2*n {
		t.Fatalf("%d corners", len(area))
	}
	for i := range n { // up there and back below, as far on either side
		above, below := area[i], area[2*n-1-i]
		near(t, "corners", above[0], below[0], 1e-12)
		near(t, "the middle of the band", (above[1]+below[1])/2, l.Intercept+l.Slope*above[0], 1e-9)
		_, half := l.At(above[0])
		near(t, "its half", above[1]-below[1], 2*half, 1e-9)
	}
	if end := rest.Lines[0][1]; rest.Lines[0][0] != [2]float64{0, 0} || math.Abs(end[0]-5.4) > 1e-12 || end[1] != 0 {
		t.Errorf("%+v", rest.Lines)
	}
	if len(main.Drops) != 1 || main.Names[0] != "Pond" || math.Abs(main.Drops[0][1]-0.3) > 1e-12 {
		t.Errorf("%+v %v", main.Drops, main.Names)
	}
	near(t, "the unknown", main.Drops[0][0], (0.3-l.Intercept)/l.Slope, 1e-9)
}

// What is at an edge is allowed, and what is beyond it is refused at its field.
func TestEdgesOfALine(t *testing.T) {
	atEdge := func(r *absorbance.Request) {
		r.Substance, r.Wavelength, r.Path, r.Cells, r.Replicates = strings.Repeat("x", 60), 190, 1, 4, 5
		for len(r.Standards) < 12 {
			r.Standards = append(r.Standards, absorbance.Standard{Concentration: uncertain.Exact(1e9)})
		}
		r.Unknowns = []absorbance.Unknown{{Name: strings.Repeat("x", 60), Owner: strings.Repeat("x", 60), Diluted: 1}, {Name: "b", Diluted: 1e6}}
		for len(r.Unknowns) < 30 {
			r.Unknowns = append(r.Unknowns, absorbance.Unknown{Name: "more"})
		}
	}
	r := six()
	atEdge(&r)
	if _, err := r.Design(); err != nil {
		t.Error(err)
	}
	r.Wavelength, r.Path = 1100, 100
	if _, err := r.Design(); err != nil {
		t.Error(err)
	}
	long := strings.Repeat("x", 61)
	for field, change := range map[string]func(*absorbance.Request){
		"/substance":          func(r *absorbance.Request) { r.Substance = long },
		"/wavelength":         func(r *absorbance.Request) { r.Wavelength = 1100.5 },
		"/path":               func(r *absorbance.Request) { r.Path = 100.5 },
		"/cells":              func(r *absorbance.Request) { r.Cells = 5 },
		"/replicates":         func(r *absorbance.Request) { r.Replicates = 6 },
		"/standards":          func(r *absorbance.Request) { r.Standards = append(r.Standards, r.Standards[0]) },
		"/standards/11":       func(r *absorbance.Request) { r.Standards[11].Concentration = uncertain.Exact(1.01e9) },
		"/unknowns":           func(r *absorbance.Request) { r.Unknowns = append(r.Unknowns, r.Unknowns[1]) },
		"/unknowns/0/name":    func(r *absorbance.Request) { r.Unknowns[0].Name = long },
		"/unknowns/0/owner":   func(r *absorbance.Request) { r.Unknowns[0].Owner = long },
		"/unknowns/1/diluted": func(r *absorbance.Request) { r.Unknowns[1].Diluted = 1.01e6 },
	} {
		r := six()
		atEdge(&r)
		change(&r)
		var p verdict.Problems
		if _, err := r.Design(); !errors.As(err, &p) || len(p) != 1 || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// Portions of a sample: three to twelve, what fits into the flask, to the last drop.
func TestEdgesOfAdditions(t *testing.T) {
	of := func() absorbance.Request {
		return absorbance.Request{
			Substance: "Copper", Unit: "mg/L", Wavelength: 510, Path: 10, Cells: 1, Replicates: 1, Unknowns: []absorbance.Unknown{},
			Additions: &absorbance.Additions{Sample: 1000, Final: 2000, Added: []float64{0, 500, 1000}, Standard: uncertain.Exact(1e9)},
		}
	}
	if _, err := of().Design(); err != nil {
		t.Error(err)
	}
	for field, change := range map[string]func(*absorbance.Additions){
		"/additions/sample":   func(d *absorbance.Additions) { d.Sample, d.Final = 1000.5, 10_000 },
		"/additions/standard": func(d *absorbance.Additions) { d.Standard = uncertain.Exact(1.01e9) },
		"/additions/added":    func(d *absorbance.Additions) { d.Added = []float64{0, 500} },
		"/additions/added/2":  func(d *absorbance.Additions) { d.Added[2] = 1000.5 },
		"/additions/added/1":  func(d *absorbance.Additions) { d.Final = 1400; d.Added[2] = 400 },
		"/additions/final":    func(d *absorbance.Additions) { d.Final = 10_001 },
	} {
		r := of()
		change(r.Additions)
		var p verdict.Problems
		if _, err := r.Design(); !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// The blank is offered again once it was set, not while it is asked for; a tube is struck once, and no unknown ever is.
func TestWhatIsOffered(t *testing.T) {
	b := begun(t, six())
	offered := func() (list []string) {
		out, _ := b.out()
		for _, o := range out.Offers {
			if o.ID == "blank" || o.ID == "strike" || o.ID == "again" {
				list = append(list, o.ID+" "+string(rune('0'+o.Part)))
			}
		}
		return list
	}
	if got := offered(); len(got) != 0 {
		t.Error(got)
	}
	b.do(absorbance.KindBlank, 0, "0")
	b.do(absorbance.KindRead, 0, "0.004")
	if got := strings.Join(offered(), ", "); got != "blank 0, again 0, strike 0" {
		t.Error(got)
	}
	b.decide("strike", 0, "a bubble")
	b.decide("blank", 0, "")
	if got := strings.Join(offered(), ", "); got != "again 0" {
		t.Error(got)
	}
	b.do(absorbance.KindBlank, 0, "0")
	for i, text := range sixRead[1:] {
		b.do(absorbance.KindRead, i+1, text)
	}
	b.do(absorbance.KindRead, 6, "0.3")
	if got := strings.Join(offered(), ", "); !strings.HasSuffix(got, "again 5, strike 5, again 6") {
		t.Error(got)
	}
	// The table tells the doubts of a tube, and not what is fine.
	out, _ := b.out()
	for _, row := range out.Table[1:] {
		if row[11] != "" {
			t.Errorf("%q", row)
		}
	}
}

// Cells that differ by as much as the rule allows are matched; a hundredth more, either way, is told.
func TestCellsMatch(t *testing.T) {
	for shown, told := range map[string]bool{"0.010": false, "-0.010": false, "0.011": true, "-0.011": true} {
		r := six()
		r.Cells = 2
		b := begun(t, r)
		b.do(absorbance.KindCell, 1, shown)
		out, _ := b.out()
		if is := len(out.Steps[0].Verdicts) == 1 && out.Steps[0].Verdicts[0].Rule == photometry.RuleCells.ID; is != told {
			t.Errorf("%s: %+v", shown, out.Steps[0].Verdicts)
		}
		if says := out.Steps[0].Summary; says != "Cell 2 with the blank in it shows "+strings.Replace(shown, "-", "−", 1)+" AU" {
			t.Error(says)
		}
		if now := b.atHand(); now.State != run.Now || now.ID != "blank 0" {
			t.Errorf("%+v", now)
		}
	}
}
