package curve

import (
	"math"
	"math/rand/v2"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/uncertain"
)

// foreseen reads the number of readings and the per cent out of a prospect.
func foreseen(t testing.TB, r Request) (readings int, percent float64, says string) {
	t.Helper()
	says = r.prospect()
	found := regexp.MustCompile(`^About (\d+) readings.*±\x{a0}([\d.]+)\x{a0}%; most of that is the `).FindStringSubmatch(says)
	if found == nil {
		t.Fatalf("%q", says)
	}
	readings, err1 := strconv.Atoi(found[1])
	percent, err2 := strconv.ParseFloat(found[2], 64)
	if err1 != nil || err2 != nil {
		t.Fatal(says)
	}
	return readings, percent, says
}

// What is foreseen is what a careful hand gets: of a hundred curves whose pipette and burette err within
// ISO 648 and ISO 385, read to a fifth of a division and in hundredths of a pH that scatter by chance,
// about 95 find the truth within that.
func TestProspectOfACurve(t *testing.T) {
	r := vinegar(t)
	r.Burette.Concentration = uncertain.Exact(r.Burette.Concentration.Value)
	n, percent, says := foreseen(t, r)
	if n < 20 || n > mostForeseen || !strings.Contains(says, "pipette") && !strings.Contains(says, "burette") {
		t.Fatalf("%s", says)
	}
	random := rand.New(rand.NewPCG(3, 7))
	c := r.curve()
	last := c.Equivalences()[0]
	burette := uncertain.Triangular(r.Glass.Tolerance()) / last // the limit holds for any volume
	pipette := math.Hypot(uncertain.Triangular(r.Sample.Tolerance()), r.Sample.Tolerance()/3) / r.Sample.Volume
	inside := 0
	const draws = 100
	for range draws {
		longer := 1 + burette*random.NormFloat64() // the same burette every time it is read
		scale := func() float64 { return r.Glass.Division() / 5 * (2*random.Float64() - 1) }
		start := scale() // read once, before all others
		is := c
		is.C *= 1 + pipette*random.NormFloat64()
		var points []Point
		for i := range n {
			v := 1.25 * last * float64(i) / float64(n-1)
			pH := is.At([]float64{math.Max(0, v+scale()-start) * longer})[0] + foreseenScatter*random.NormFloat64()
			points = append(points, Point{v, math.Round(100*pH) / 100})
		}
		f, err := c.Fit(points, []string{FitC, FitPKa, FitOffset})
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(f.Parameters[0].Value.Value/c.C-1) <= percent/100 {
			inside++
		}
	}
	if inside < 88 || inside > 99 {
		t.Errorf("%d of %d within ± %g %%", inside, draws, percent)
	}
}

// A titrant that is known badly is what limits it.
func TestProspectNamesTheTitrant(t *testing.T) {
	r := vinegar(t)
	known := r.Burette.Concentration.Value
	r.Burette.Concentration = uncertain.New(known, 0.01*known, uncertain.Source{ID: "titrant", Label: "bottle of base"})
	_, percent, says := foreseen(t, r)
	if math.Abs(percent-2) > 0.2 || !strings.Contains(says, "most of that is the bottle of base (9") {
		t.Error(says)
	}
	r.Flask.Concentration = uncertain.Number{}
	if says := r.prospect(); says != "" {
		t.Errorf("of an unknown: %s", says)
	}
}

func BenchmarkDesign(b *testing.B) {
	r := vinegar(b)
	for b.Loop() {
		if _, err := r.Design(); err != nil {
			b.Fatal(err)
		}
	}
}

// What each place of a class needs is what one curve takes: 25 mL of about 0.1 mol/L and what runs past its end point.
func TestLiquidsForAClass(t *testing.T) {
	list := vinegar(t).Liquids()
	flask, titrant := list[0], list[1]
	if len(list) != 2 || flask.Each != vinegar(t).Volume || flask.From != "pipette" || flask.Times != 1 || flask.Known ||
		titrant.From != "burette" || titrant.Size != vinegar(t).Glass.Volume || !titrant.Known || titrant.Each < 20 || titrant.Each > 50 {
		t.Errorf("%+v", list)
	}
	if drops := drips(t).Liquids()[1]; drops.From != "" || drops.Size != 0 {
		t.Errorf("%+v", drops)
	}
}
