package curve

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/buffer"
	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/run/runtest"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/core/working/workingtest"
)

// bench carries a plan out.
type bench struct{ runtest.Bench[Request] }

func on(t testing.TB, r Request) *bench { return &bench{runtest.Bench[Request]{T: t, Plan: r}} }

func stock(name, text string, c, u float64, bottle string, number int64) buffer.Stock {
	return buffer.Stock{
		Name:          name,
		Formula:       text,
		Concentration: uncertain.New(c, u, uncertain.Source{ID: name, Label: name}),
		Bottle:        bottle,
		Number:        number,
	}
}

// vinegar is 25 mL of about 0.09 mol/L acetic acid, with 15 mL of water.
func vinegar(t testing.TB) Request {
	return Request{
		Flask: stock("Vinegar", "CH3COOH", 0.09, 0, "b1", 1), Analyte: compound(t, "CH3COOH"), Volume: 25, Water: 15, Celsius: 25,
		Burette: stock("Sodium hydroxide", "NaOH", 0.1, 0.0001, "b2", 2), Titrant: compound(t, "NaOH"),
		Sample: glassware.Item{Kind: glassware.OneMarkPipette, Volume: 25, Class: glassware.ClassA},
		Glass:  glassware.Item{Kind: glassware.Burette, Volume: 50, Class: glassware.ClassA},
	}
}

// glycine is its hydrochloride in water.
func glycine(t testing.TB) equilibrium.Compound {
	t.Helper()
	s, ok := equilibrium.Find("glycine")
	if !ok {
		t.Fatal("no glycine")
	}
	return equilibrium.Compound{
		Formula: "glycine hydrochloride", Units: []equilibrium.Units{{System: s, Count: 1}},
		Ions: []equilibrium.Ion{{Formula: "Cl-", Charge: -1, Count: 1}},
	}
}

func of1(kind, unit string, x float64) fact.Fact {
	q := quantity.Of(x, unit)
	return fact.Fact{Kind: kind, Quantity: &q}
}

// take follows the advice to the end, with what a truth gives, to 0.01 pH.
func (b *bench) take(truth Curve, from float64, random *rand.Rand) (out run.Outcome) {
	b.T.Helper()
	b.State(fact.Fact{Kind: KindReady, Choice: choiceIn})
	return b.titrate(truth, from, random)
}

// titrate is take of a beaker that is ready.
func (b *bench) titrate(truth Curve, from float64, random *rand.Rand) (out run.Outcome) {
	b.T.Helper()
	b.State(of1(KindStart, "mL", from))
	read := func(v float64) run.Outcome {
		pH := truth.At([]float64{v})[0]
		if random != nil {
			pH += 0.01 * random.NormFloat64()
		}
		return b.State(of1(KindRead, "pH", math.Round(100*pH)/100))
	}
	out = read(0)
	for range MaxAdditions {
		next := out.View.(View).Next //nolint:errcheck // its own kind
		if next == "" {
			return out
		}
		to, err := strconv.ParseFloat(next, 64)
		if err != nil {
			b.T.Fatal(err)
		}
		b.State(of1(KindAdded, "mL", to))
		out = read(to - from)
	}
	b.T.Fatal("the advice never ends")
	return out
}

func TestCurveAtTheBench(t *testing.T) {
	r := vinegar(t)
	truth := r.curve()
	truth.C = 0.0837 * 25 / 40
	b := on(t, r)
	out := b.take(truth, 0.3, rand.New(rand.NewPCG(5, 6)))
	view := out.View.(View) //nolint:errcheck // its own kind
	n := len(view.Readings)
	runtest.Drew(t, out, map[string]float64{RoleFlask: 25, RoleBurette: view.Readings[n-1].Volume, RoleAcid: 0})
	if last := view.Readings[n-1]; last.PH < 11.9 && last.Volume < 1.5*22.5 {
		t.Errorf("it ends at %g mL, pH %.2f", last.Volume, last.PH)
	}
	// What the lab asks of a fit applies.
	strict := r
	strict.Thresholds = verdict.Thresholds{RuleFits.ID: 0.001, RuleTells.ID: 0.5}
	looks := func(r Request) (n int) {
		out, err := r.Make(b.Facts, runtest.Noon)
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range out.View.(View).Verdicts { //nolint:errcheck // its own kind
			if v.Level == verdict.Look {
				n++
			}
		}
		return n
	}
	if lax, hard := looks(r), looks(strict); lax != 0 || hard < 2 {
		t.Errorf("%d looks, %d by stricter rules", lax, hard)
	}
	// No step moves it by much more than is wanted, none is longer than a millilitre, and there are
	// not too many.
	for i := 1; i < n; i++ {
		a, c := view.Readings[i-1], view.Readings[i]
		if c.Volume-a.Volume > 1.001 || c.Volume-a.Volume < 0.049 {
			t.Errorf("from %g to %g mL at once", a.Volume, c.Volume)
		}
	}
	if n < 25 || n > 80 {
		t.Errorf("%d readings", n)
	}
	figures := map[string]figure.Figure{}
	for _, f := range out.Figures {
		figures[f.ID] = f
	}
	if c := figures["c"]; math.Abs(c.Value-0.0837) > 0.0003 || c.U() < 0.0837*0.001 || c.Role != figure.Concentration {
		t.Errorf("c = %s", c)
	}
	if p := figures["pKa 1"]; math.Abs(p.Value-4.756) > 0.02 {
		t.Errorf("pKa = %s", p)
	}
	// The end point lies between its readings, whatever the burette can do.
	e := figures["end point 1"]
	if math.Abs(e.Value-20.925) > e.Expanded || e.U() < view.EndPoints[0].Within/math.Sqrt(3) || view.EndPoints[0].Within < 0.02 ||
		view.EndPoints[0].Within > 0.3 {
		t.Errorf("end point %s, within %g", e, view.EndPoints[0].Within)
	}
	// The concentration depends on titrant, burette, pipette and fit.
	labels := map[string]bool{}
	for _, x := range figures["c"].Budget {
		labels[x.Label] = true
	}
	for _, want := range []string{"Sodium hydroxide", "50 mL burette", "25 mL one-mark pipette", "setting and delivering", "scatter of the readings"} {
		if !labels[want] {
			t.Errorf("%s is not in %v", want, labels)
		}
	}
	for _, f := range out.Figures {
		lines, err := b.Plan.Explain(b.Facts, f.ID)
		if err != nil || len(lines) < 2 {
			t.Errorf("%s: %v", f.ID, err)
			continue
		}
		workingtest.Check(t, lines)
	}
	if len(view.Fitted) != n || len(view.Residuals) != n || view.Before == nil || len(view.Halves) != 1 ||
		math.Abs(view.Halves[0].PH-4.66) > 0.1 {
		t.Errorf("%d fitted, %+v", len(view.Fitted), view.Halves)
	}
	s := runtest.Now(t, out)
	if s.Ends == nil || !strings.Contains(s.Hint, "It has its other side") {
		t.Errorf("%+v", s)
	}
	out = b.State(fact.Fact{Kind: run.KindDecided, Choice: choiceDone})
	if out.Status != run.Finished || len(out.Products) != 1 || !out.Products[0].Result {
		t.Errorf("%s", out.Status)
	}
	if head, line := out.Table[0], out.Table[1]; len(out.Table) != n+1 || head[1] != "pH" || line[0] != "0.00" || line[4] == "" {
		t.Errorf("%v %v", head, line)
	}
}

func TestFirstStepsOfACurve(t *testing.T) {
	b := on(t, vinegar(t))
	b.State(fact.Fact{Kind: KindReady, Choice: choiceIn})
	out := b.State(of1(KindStart, "mL", 1))
	s := runtest.Now(t, out)
	if s.Title != "The pH before anything is added" || s.Stands == nil || math.Abs(s.Stands.PH-3.0) > 0.1 || s.Ends != nil {
		t.Fatalf("%+v", s)
	}
	out = b.State(of1(KindRead, "pH", 2.98))
	s = runtest.Now(t, out)
	if s.Kind != KindAdded || s.Expects == "" || s.Default != "" || !strings.HasPrefix(s.Title, "Run in, and read the burette: to about 1.") ||
		len(out.Figures) != 0 {
		t.Fatalf("%+v", s)
	}
	for _, f := range []fact.Fact{of1(KindAdded, "mL", 51), of1(KindRead, "pH", 20), {Kind: KindReady, Choice: "no"}, {Kind: "nothing"}, {Kind: KindStart}} {
		if b.Plan.Check(f) == nil {
			t.Errorf("%+v is taken", f)
		}
	}
	// The burette cannot go backwards.
	b.State(of1(KindAdded, "mL", 0.5))
	out = b.State(of1(KindRead, "pH", 3.1))
	s = runtest.Now(t, out)
	if v := s.Verdicts[len(s.Verdicts)-1]; v.Level != verdict.Stop || v.Rule != RuleRuns.ID ||
		!strings.Contains(v.Sentence, "went backwards") {
		t.Errorf("%+v", s.Verdicts)
	}
	if got := b.Plan.Sentence(of1(KindAdded, "mL", 1.5)); got != "Run in to 1.50 mL" && got != "Run in to 1.5 mL" {
		t.Error(got)
	}
	if _, err := b.Plan.Explain(b.Facts, "nothing"); err == nil {
		t.Error("a figure that there is not is explained")
	}
}

func TestCurvePlans(t *testing.T) {
	d, err := vinegar(t).Design()
	if err != nil {
		t.Fatal(err)
	}
	is := d.(Design) //nolint:errcheck // its own kind
	if is.Title != "Curve of vinegar with sodium hydroxide" || is.Expected != "22.5 mL" ||
		is.Flask != "25 mL of vinegar, bottle 1, by pipette, and 15 mL of water" ||
		is.Burette != "sodium hydroxide, 0.1000 mol/L, bottle 2" ||
		len(is.Curve.Points) != usualPoints {
		t.Errorf("%+v", is)
	}
	uses := vinegar(t).Uses()
	if len(uses.Sources) != 2 || uses.Sources[0].Bottle != "b1" || uses.Sources[1].Bottle != "b2" {
		t.Errorf("%+v", uses)
	}
	for field, change := range map[string]func(*Request){
		"/volume":    func(r *Request) { r.Volume = 0 },
		"/water":     func(r *Request) { r.Water = -1 },
		"/volume#2":  func(r *Request) { r.Sample = glassware.Item{} },
		"/volume#3":  func(r *Request) { r.Volume = 26 },
		"/glass":     func(r *Request) { r.Glass = glassware.Item{} },
		"/celsius":   func(r *Request) { r.Celsius = 80 },
		"/flask":     func(r *Request) { r.Flask.Concentration = uncertain.Exact(-1) },
		"/burette":   func(r *Request) { r.Burette.Concentration = uncertain.Number{} },
		"/burette#2": func(r *Request) { r.Titrant = compound(t, "HCl") },
	} {
		r := vinegar(t)
		change(&r)
		var p verdict.Problems
		if _, err := r.Design(); !errors.As(err, &p) || p[0].Field != strings.SplitN(field, "#", 2)[0] {
			t.Errorf("%s: %v", field, err)
		}
	}
	moved := run.Product{Figures: []figure.Figure{figure.New("c", "c", "mol/L", uncertain.Exact(0.11)).As(figure.Concentration)}}
	next, changed := vinegar(t).From(RoleBurette, moved)
	if !changed || next.(Request).Burette.Concentration.Value != 0.11 { //nolint:errcheck // its own kind
		t.Error("the titrant did not follow its bottle")
	}
	if _, changed := vinegar(t).From(RoleFlask, moved); changed {
		t.Error("what is sought follows its bottle")
	}
	for _, role := range []string{RoleFlask, RoleBurette} {
		there := vinegar(t).Bound(role, run.Source{Bottle: "other"}, 9).(Request) //nolint:errcheck // its own kind
		if s := map[string]buffer.Stock{RoleFlask: there.Flask, RoleBurette: there.Burette}[role]; s.Bottle != "other" || s.Number != 9 {
			t.Errorf("%s: %+v", role, s)
		}
	}
}

// An amino acid: the isoelectric point is a figure, with what the two constants share counted.
func TestIsoelectricFigure(t *testing.T) {
	r := vinegar(t)
	r.Flask, r.Analyte, r.Volume, r.Water, r.Sample.Volume = stock("Glycine", "C2H6NO2Cl", 0.05, 0, "", 0), glycine(t), 20, 0, 20
	b := on(t, r)
	out := b.take(r.curve(), 0, rand.New(rand.NewPCG(7, 8)))
	view := out.View.(View) //nolint:errcheck // its own kind
	at := slices.IndexFunc(out.Figures, func(f figure.Figure) bool { return f.ID == "pI" })
	if at < 0 {
		t.Fatalf("%v", out.Figures)
	}
	f := out.Figures[at]
	u1, u2 := view.Parameters[1].Value.U(), view.Parameters[2].Value.U()
	// pKa 2.350 and 9.778: 6.064.
	if math.Abs(f.Value-6.064) > f.Expanded || f.Expanded > 0.05 || f.U() > (u1+u2)/2 || f.U() < math.Abs(u1-u2)/2 {
		t.Errorf("%s %s, constants to %g and %g", f.ID, f, u1, u2)
	}
	lines, err := b.Plan.Explain(b.Facts, "pI")
	if err != nil || len(lines) != 2 {
		t.Fatal(lines, err)
	}
	workingtest.Check(t, lines)
}

// An amino acid that a lab entered itself has an isoelectric point too; EDTA of the library has none.
func TestIsoelectricOfOnesOwn(t *testing.T) {
	own := glycine(t)
	own.Units[0].System.Key, own.Units[0].System.Amino = "one of our own", false
	c := Curve{Analyte: own, Celsius: 25}
	if pI, _, ok := c.isoelectric(nil); !ok || math.Abs(pI.Value-6.064) > 0.01 {
		t.Errorf("%g %v", pI.Value, ok)
	}
	edta, ok := equilibrium.Find("edta")
	if !ok {
		t.Fatal("no EDTA")
	}
	c.Analyte = equilibrium.Compound{Units: []equilibrium.Units{{System: edta, Count: 1}}}
	if _, _, ok := c.isoelectric(nil); ok {
		t.Error("an isoelectric point of EDTA")
	}
}

// What a curve needs from the shelf: the sample, and the titrant to three tenths past the last equivalence;
// nothing is said where nobody says how strong the sample is.
func TestNeedsOfTheShelf(t *testing.T) {
	r := vinegar(t)
	r.Flask.Bottle, r.Burette.Bottle = "b1", "b2"
	needs := map[string]float64{}
	for _, s := range r.Uses().Sources {
		needs[s.Role] = s.Needs
	}
	list := r.curve().Equivalences()
	if want := 1.3 * list[len(list)-1]; needs[RoleFlask] != r.Volume || math.Abs(needs[RoleBurette]-want) > 1e-9 {
		t.Errorf("%v, want %g mL of the titrant", needs, want)
	}
	r.Flask.Concentration = uncertain.Number{}
	for _, s := range r.Uses().Sources {
		if s.Role == RoleBurette && s.Needs != 0 {
			t.Errorf("%g mL for a sample of unknown strength", s.Needs)
		}
	}
}
