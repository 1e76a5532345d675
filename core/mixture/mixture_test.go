package mixture_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"gonum.org/v1/gonum/stat/distuv"

	"vialbench/core/absorbance"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/mixture"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

// lineOf is one through standards up to a concentration, with an intercept and readings off it by so much, in turn up and down.
func lineOf(number int64, slope, intercept, most, off float64) mixture.Line {
	l := absorbance.Line{At: runtest.Noon.Add(-time.Hour)}
	for i := range 6 {
		c := most * float64(i) / 5
		l.Standards = append(l.Standards, absorbance.Standard{Concentration: uncertain.Exact(c)})
		l.Of, l.A = append(l.Of, i), append(l.A, intercept+slope*c+off)
		off = -off
	}
	return mixture.Line{Run: fmt.Sprintf("run %d", number), Number: number, Line: l}
}

// ironCopper are iron(III) and copper(II) with hexacyanoruthenate at 550 and 396 nm: Harvey, Analytical Chemistry 2.1, example 10.6, from
// memory.
func ironCopper() mixture.Request {
	return mixture.Request{
		Substances: []mixture.Substance{
			{Name: "Iron", Unit: "µmol/L", Lines: []mixture.Line{lineOf(1, 9970e-6, 0, 50, 0), lineOf(2, 84e-6, 0, 50, 0)}},
			{Name: "Copper", Unit: "µmol/L", Lines: []mixture.Line{lineOf(3, 34e-6, 0, 500, 0), lineOf(4, 856e-6, 0, 500, 0)}},
		},
		Wavelengths: []float64{550, 396}, Path: 10, Samples: []mixture.Sample{{Name: "the alloy"}}, Replicates: 1,
	}
}

func begun(t testing.TB, r mixture.Request) *runtest.Bench[mixture.Request] {
	return &runtest.Bench[mixture.Request]{T: t, Plan: r}
}

func shows(kind string, part int, au float64) fact.Fact {
	q := quantity.Of(au, "AU")
	q.Decimals = 3
	return fact.Fact{Kind: kind, Part: part, Quantity: &q}
}

// read states a blank of nothing and the readings of all samples, at one wavelength after the other.
func read(b *runtest.Bench[mixture.Request], at ...[]float64) (out run.Outcome) {
	b.T.Helper()
	for i, list := range at {
		b.State(shows(mixture.KindBlank, i, 0))
		for k, au := range list {
			out = b.State(shows(mixture.KindRead, i*len(b.Plan.Samples)+k, au))
		}
	}
	return out
}

func figureOf(t testing.TB, out run.Outcome, id string) figure.Figure {
	t.Helper()
	i := slices.IndexFunc(out.Figures, func(f figure.Figure) bool { return f.ID == id })
	if i < 0 {
		t.Fatalf("no figure %q among %v", id, out.Figures)
	}
	return out.Figures[i]
}

func near(t testing.TB, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s: %.9g, want %.9g ± %g", what, got, want, within)
	}
}

func view(out run.Outcome) mixture.View { return out.View.(mixture.View) }

func ExampleRequest_Make() {
	q := func(au float64) *quantity.Quantity { of := quantity.Of(au, "AU"); return &of }
	at := runtest.Noon
	out, err := ironCopper().Make([]fact.Fact{
		{ID: "1", Kind: mixture.KindBlank, Quantity: q(0), At: at},
		{ID: "2", Kind: mixture.KindRead, Quantity: q(0.183), At: at},
		{ID: "3", Kind: mixture.KindBlank, Part: 1, Quantity: q(0), At: at},
		{ID: "4", Kind: mixture.KindRead, Part: 1, Quantity: q(0.109), At: at},
	}, at)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, f := range out.Figures {
		fmt.Printf("%s: %.1f %s\n", f.Label, f.Value, f.Unit)
	}
	// Output:
	// Iron in the alloy: 17.9 µmol/L
	// Copper in the alloy: 125.6 µmol/L
}

func TestHarvey(t *testing.T) {
	b := begun(t, ironCopper())
	out := read(b, []float64{0.183}, []float64{0.109})
	if copper := figureOf(t, out, "sample 0 substance 1"); math.Abs(copper.Value-126) > 0.5 { // half of the last digit in print
		t.Errorf("copper %g", copper.Value)
	}
	near(t, "iron by Cramer’s rule", figureOf(t, out, "sample 0 substance 0").Value, 1e6*(0.183*856-34*0.109)/(9970*856-34*84), 1e-9)
	v := view(out)
	e := v.Samples[0].Equations
	near(t, "550 nm", e[0].A, 0.183, 1e-12)
	near(t, "iron at 396 nm", e[1].First, 84e-6, 1e-15)
	near(t, "copper at 550 nm", e[0].Second, 34e-6, 1e-15)
	near(t, "copper at 396 nm", v.Slopes[1][1], 856e-6, 1e-15)
	// 0.002·√(34² + 856²)/det and 0.002·√(9970² + 84²)/det, by hand.
	if want := "These wavelengths tell the two apart to 1.00, where 1 is best. Readings that are off by 0.002 AU move Iron by 0.20 µmol/L, and Copper by 2.34 µmol/L."; v.Says != want {
		t.Errorf("%s", v.Says)
	}
}

// Blanks and both intercepts come off, replicates are averaged, and what was diluted is told as it was before.
func TestWhatComesOff(t *testing.T) {
	r := ironCopper()
	r.Substances[0].Lines[0] = lineOf(1, 9970e-6, 0.004, 50, 0)
	r.Substances[1].Lines[0] = lineOf(3, 34e-6, -0.001, 500, 0)
	r.Samples[0].Diluted, r.Replicates = 5, 2
	b := begun(t, r)
	b.State(shows(mixture.KindBlank, 0, 0.002))
	b.State(shows(mixture.KindRead, 0, 0.187))
	b.State(shows(mixture.KindRead, 0, 0.189)) // mean 0.188 − 0.002 − 0.004 + 0.001 = 0.183
	b.State(shows(mixture.KindBlank, 1, -0.001))
	b.State(shows(mixture.KindRead, 1, 0.108))
	out := b.State(shows(mixture.KindRead, 1, 0.108))
	iron := 1e6 * (0.183*856 - 34*0.109) / (9970*856 - 34*84)
	near(t, "as read", figureOf(t, out, "sample 0 substance 0").Value, iron, 1e-9)
	undiluted := figureOf(t, out, "sample 0 substance 0 undiluted")
	near(t, "before it was diluted", undiluted.Value, 5*iron, 1e-8)
	if undiluted.Label != "Iron in the alloy, before it was diluted" || out.Figures[0].ID != undiluted.ID {
		t.Errorf("%+v", out.Figures)
	}
	if held := view(out).Samples[0].Held[0]; held.Sample != undiluted.ID || held.Figure != "sample 0 substance 0" {
		t.Errorf("%+v", held)
	}
	// A pipette and a flask, ±0.3 % (rule of the lab), rectangular.
	near(t, "its dilution", figureOf(t, out, undiluted.ID).U(), 5*iron*run.RuleFactor.Threshold/100/math.Sqrt(3), 1e-6)
	for _, f := range out.Figures {
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil {
			t.Fatal(err)
		}
		workingtest.Check(t, lines)
	}
	lines, err := b.Plan.Explain(b.Facts, undiluted.ID)
	if err != nil || lines[0].Substituted != `A_1 = (\frac{0.185 + 0.187}{2} - 0.004 - (-0.001))\,\mathrm{AU}` || lines[0].Result != "0.183 AU" {
		t.Errorf("%+v %v", lines, err)
	}
}

// A source that all standards of a stock share moves a concentration by its part, whatever the slopes; what is of one standard alone is in
// the scatter already.
func TestWhatStandardsShare(t *testing.T) {
	r := ironCopper()
	shared := uncertain.Source{ID: "stock of iron", Label: "the stock"}
	for at := range r.Substances[0].Lines {
		for i := range r.Substances[0].Lines[at].Line.Standards {
			c := &r.Substances[0].Lines[at].Line.Standards[i].Concentration
			own := uncertain.Source{ID: fmt.Sprintf("flask %d", i), Label: "a flask"}
			*c = uncertain.New(c.Value, 0.01*c.Value, shared).Plus(uncertain.New(0, 0.02, own))
		}
	}
	out := read(begun(t, r), []float64{0.183}, []float64{0.109})
	iron, copper := figureOf(t, out, "sample 0 substance 0"), figureOf(t, out, "sample 0 substance 1")
	near(t, "iron: 1 %", iron.U(), 0.01*iron.Value, 1e-6)
	near(t, "copper", copper.U(), 0, 1e-6) // the share of iron in the light stays what it is
	if iron.Value <= 0 || slices.ContainsFunc(iron.Contributions, func(c uncertain.Contribution) bool { return c.Label == "a flask" }) {
		t.Errorf("%+v", iron.Contributions)
	}
}

// The scatter of lines and readings gives the standard error of photometry.Mixture, with its degrees of freedom.
func TestScatter(t *testing.T) {
	r := ironCopper()
	for of := range r.Substances {
		s := &r.Substances[of]
		s.Lines = []mixture.Line{lineOf(int64(2*of+1), []float64{9970e-6, 34e-6}[of], 0, []float64{50, 500}[of], 0.002), lineOf(int64(2*of+2), []float64{84e-6, 856e-6}[of], 0, []float64{50, 500}[of], 0.001)}
	}
	b := begun(t, r)
	out := read(b, []float64{0.183}, []float64{0.109})
	q := photometry.MixtureQuestion{Readings: [][]float64{{0.183}, {0.109}}}
	for of, into := range []*[]photometry.Model{&q.First, &q.Second} {
		for _, l := range r.Substances[of].Lines {
			m, err := l.Line.Model("µmol/L")
			if err != nil {
				t.Fatal(err)
			}
			*into = append(*into, m)
		}
	}
	want, err := photometry.Mixture(q)
	if err != nil {
		t.Fatal(err)
	}
	for of := range 2 {
		f := figureOf(t, out, fmt.Sprintf("sample 0 substance %d", of))
		near(t, "u", f.U(), want.SE[of], 1e-12)
		near(t, "degrees of freedom", f.Contributions[0].DoF, want.DF[of], 1e-9)
		// JCGM 100, G.4.2: effective degrees of freedom are rounded down for k.
		k := distuv.StudentsT{Sigma: 1, Nu: math.Floor(want.DF[of])}.Quantile(0.975)
		near(t, "k", f.CoverageFactor(), k, 1e-9)
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil {
			t.Fatal(err)
		}
		workingtest.Check(t, lines)
	}
}

func says(list []verdict.Verdict, rule verdict.Rule) string {
	for _, v := range list {
		if v.Rule == rule.ID {
			return v.Sentence
		}
	}
	return ""
}

func TestDoubts(t *testing.T) {
	r := ironCopper()
	r.Substances[1].Lines[1].Line.At = runtest.Noon.Add(-9 * time.Hour)
	b := begun(t, r)
	b.State(shows(mixture.KindBlank, 0, 0))
	remarked := shows(mixture.KindRead, 0, 0.7)
	remarked.Text = "a bubble"
	b.State(remarked)
	b.State(shows(mixture.KindBlank, 1, 0))
	out := b.State(shows(mixture.KindRead, 1, 0.109))
	list := view(out).Samples[0].Verdicts
	for rule, want := range map[string]string{
		says(list, photometry.RuleRemarked): "a bubble",
		says(list, photometry.RuleInside):   "Iron lies beyond its strongest standard, 50 µmol/L",
		says(list, photometry.RuleOld):      "The line is 9 hours old",
	} {
		if !strings.Contains(rule, want) {
			t.Errorf("nothing says %q: %+v", want, list)
		}
	}
	now := runtest.Now(t, out)
	if now.ID != "judge" || now.Verdicts[0].Choices[0].Label != "Keep this result" || len(now.Verdicts) < 3 {
		t.Errorf("%+v", now)
	}
	again := b.State(fact.Fact{Kind: run.KindDecided, Choice: "again"})
	if now := runtest.Now(t, again); now.ID != "read 0" || now.Title != "The alloy, at 550 nm: reading 2 of 2" {
		t.Errorf("%+v", now)
	}
	out = b.State(shows(mixture.KindRead, 0, 0.183))
	near(t, "mean of both", figureOf(t, out, "sample 0 substance 0").Value, 1e6*(0.4415*856-34*0.109)/(9970*856-34*84), 1e-9)
	out = b.State(fact.Fact{Kind: run.KindDecided, Choice: "end"})
	if out.Status != run.Finished || len(out.Products) != 1 || !out.Products[0].Result || out.Products[0].Title != "Iron and copper beside each other" || len(out.Offers) != 0 {
		t.Errorf("%+v", out)
	}
}

// A blank that is too old is asked for again, once for its wavelength.
func TestBlankIsSetAgain(t *testing.T) {
	r := ironCopper()
	r.Samples = []mixture.Sample{{Name: "a"}, {Name: "b"}}
	r.Thresholds = verdict.Thresholds{photometry.RuleBlank.ID: 2}
	b := begun(t, r)
	b.State(shows(mixture.KindBlank, 0, 0))
	b.State(shows(mixture.KindRead, 0, 0.1))
	b.State(fact.Fact{Kind: run.KindNote, Text: "the lamp flickers"})
	out := b.State(shows(mixture.KindRead, 1, 0.1))
	if now := runtest.Now(t, out); now.ID != "blank 0 1" || now.Wavelength != 550 {
		t.Errorf("%+v", now)
	}
	if list := view(out).Samples[1].Verdicts; !strings.Contains(says(list, photometry.RuleBlank), "Read 3 minutes after the blank was set") {
		t.Errorf("%+v", list)
	}
	out = b.State(shows(mixture.KindBlank, 0, 0))
	if now := runtest.Now(t, out); now.ID != "blank 1 0" || now.Wavelength != 396 || now.Expects != "0.000 AU" {
		t.Errorf("%+v", now)
	}
	ids := []string{}
	for _, s := range out.Steps {
		ids = append(ids, s.ID)
	}
	if got := strings.Join(ids, ", "); got != "blank 0 0, blank 0 1, read 0, read 1, blank 1 0, read 2, read 3, judge" {
		t.Error(got)
	}
}

// What the wavelengths do not tell apart, and what is nothing, is said.
func TestAlike(t *testing.T) {
	r := ironCopper()
	r.Substances[1].Lines = []mixture.Line{lineOf(3, 9000e-6, 0, 50, 0), lineOf(4, 84e-6, 0, 50, 0)}
	out := read(begun(t, r), []float64{0.183}, []float64{0.002})
	if list := view(out).Samples[0].Verdicts; !strings.Contains(says(list, photometry.RuleApart), "much alike") {
		t.Errorf("%+v", list)
	}
	r.Substances[1].Lines = []mixture.Line{lineOf(3, 9970e-6, 0, 50, 0), lineOf(4, 84e-6, 0, 50, 0)}
	out = read(begun(t, r), []float64{0.183}, []float64{0.002})
	if v := view(out); !strings.Contains(v.Not, "same ratio") || len(v.Samples[0].Held) != 0 {
		t.Errorf("%+v", v)
	}
	if now := runtest.Now(t, out); now.ID != "judge" || !strings.Contains(now.Verdicts[0].Sentence, "same ratio") {
		t.Errorf("%+v", now)
	}
}

func TestTableAndPlot(t *testing.T) {
	out := read(begun(t, ironCopper()), []float64{0.183}, []float64{0.109})
	if len(out.Table) != 5 || strings.Join(out.Table[1], "|") != "the alloy|550|0.183 AU|0.183|65.6|||||" ||
		strings.Join(out.Table[4], "|") != "the alloy|||||Copper|125.577|0|µmol/L|" {
		t.Errorf("%q", out.Table)
	}
	plot := out.Plots[0]
	if plot.XLabel != "Iron, µmol/L" || plot.YLabel != "Copper, µmol/L" || len(plot.Lines) != 2 || plot.Names[0] != "the alloy" {
		t.Errorf("%+v", plot)
	}
	for i, slopes := range [][2]float64{{9970e-6, 34e-6}, {84e-6, 856e-6}} { // both ends of a line are on its equation
		for _, p := range plot.Lines[i] {
			near(t, "an end", slopes[0]*p[0]+slopes[1]*p[1], []float64{0.183, 0.109}[i], 1e-9)
		}
	}
}

func TestWhatCannotBe(t *testing.T) {
	for want, change := range map[string]func(*mixture.Request){
		"/wavelengths":       func(r *mixture.Request) { r.Wavelengths = []float64{550, 550} },
		"/wavelengths/1":     func(r *mixture.Request) { r.Photometer = &photometry.Photometer{Name: "Dunlin", Low: 400, High: 900} },
		"/lines":             func(r *mixture.Request) { r.Substances[1].Lines = r.Substances[1].Lines[:1] },
		"/samples":           func(r *mixture.Request) { r.Samples = nil },
		"/samples/0/name":    func(r *mixture.Request) { r.Samples[0].Name = strings.Repeat("x", 61) },
		"/samples/0/diluted": func(r *mixture.Request) { r.Samples[0].Diluted = 0.5 },
		"/replicates":        func(r *mixture.Request) { r.Replicates = 6 },
	} {
		r := ironCopper()
		change(&r)
		var p verdict.Problems
		if _, err := r.Design(); !errors.As(err, &p) || p[0].Field != want {
			t.Errorf("%s: %v", want, err)
		}
	}
	r := ironCopper()
	r.Substances[1].Name = "Iron"
	if _, err := r.Design(); err == nil || !strings.Contains(err.Error(), "all of Iron") {
		t.Error(err)
	}
	b := begun(t, ironCopper())
	if _, err := b.Try(shows(mixture.KindRead, 0, 0.2)); err == nil {
		t.Error("read before the blank")
	}
	wrong := shows(mixture.KindBlank, 0, 0)
	wrong.Beside = []quantity.Quantity{quantity.Of(396, "nm")}
	if _, err := b.Try(wrong); err == nil || !strings.Contains(err.Error(), "read at 550 nm") {
		t.Error(err)
	}
	for _, f := range []fact.Fact{shows(mixture.KindBlank, 2, 0), shows(mixture.KindRead, 2, 0), shows(mixture.KindRead, 0, 7)} {
		if err := ironCopper().Check(f); err == nil {
			t.Errorf("%+v", f)
		}
	}
	if _, err := ironCopper().Explain(nil, "sample 0 substance 0"); err == nil {
		t.Error("explained before it was read")
	}
}

// A line that was corrected is taken as it stands; the run that made it is a source.
func TestLinesAreFollowed(t *testing.T) {
	r := ironCopper()
	uses := r.Uses()
	if len(uses.Sources) != 4 || uses.Sources[2].Role != "line 2" || uses.Sources[2].Run != "run 3" {
		t.Errorf("%+v", uses)
	}
	was := r.Substances[1].Lines[0].Line
	if _, changed := r.From("line 2", run.Product{Detail: was}); changed {
		t.Error("the same line is no change")
	}
	if _, changed := r.From("line 2", run.Product{}); changed {
		t.Error("a result without a line is no change")
	}
	now, changed := r.From("line 2", run.Product{Detail: lineOf(3, 68e-6, 0, 500, 0).Line})
	if !changed || r.Substances[1].Lines[0].Line.A[5] != was.A[5] {
		t.Error("the line is followed, and the plan itself stays")
	}
	out := read(begun(t, now.(mixture.Request)), []float64{0.183}, []float64{0.109})
	near(t, "iron", figureOf(t, out, "sample 0 substance 0").Value, 1e6*(0.183*856-68*0.109)/(9970*856-68*84), 1e-9)
	bound := r.Bound("line 3", run.Source{Run: "other"}, 12).(mixture.Request)
	if l := bound.Substances[1].Lines[1]; l.Run != "other" || l.Number != 12 || r.Substances[1].Lines[1].Number != 4 {
		t.Errorf("%+v", l)
	}
	text, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	if kept, err := mixture.Decode(text); err != nil || kept.Title() != r.Title() || kept.Parts() != 2 {
		t.Errorf("%v %v", kept, err)
	}
}

func TestSentences(t *testing.T) {
	r := ironCopper()
	for want, f := range map[string]fact.Fact{
		"Blank set to zero at 396 nm; it shows 0.001 AU": shows(mixture.KindBlank, 1, 0.001),
		"The alloy shows 0.183 AU at 550 nm":             shows(mixture.KindRead, 0, 0.183),
		"Decided: read the alloy again at 396 nm":        {Kind: run.KindDecided, Choice: "again", Part: 1},
		"Decided: keep this result":                      {Kind: run.KindDecided, Choice: "end"},
	} {
		if got := r.Sentence(f); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

func BenchmarkMake(b *testing.B) {
	r := ironCopper()
	for of := range r.Substances {
		for at := range r.Substances[of].Lines {
			for i := range r.Substances[of].Lines[at].Line.Standards {
				c := &r.Substances[of].Lines[at].Line.Standards[i].Concentration
				*c = uncertain.New(c.Value, 0.01*c.Value, uncertain.Source{ID: fmt.Sprintf("stock %d", of), Label: "the stock"})
			}
		}
	}
	bench := begun(b, r)
	read(bench, []float64{0.183}, []float64{0.109})
	for b.Loop() {
		bench.Outcome()
	}
}
