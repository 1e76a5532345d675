package capacity

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"vialbench/core/equilibrium"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func ExampleSolve() {
	a, err := Solve(Question{
		Volume: 50, Celsius: 25, Acid: true, C: 0.1,
		Contents: []equilibrium.Content{{Formula: "KH2PO4", C: 0.025}, {Formula: "Na2HPO4", C: 0.025}},
		Readings: []Reading{{PH: 6.88, U: 0.01}, {Added: 2, PH: 6.74, U: 0.01}, {Added: 4, PH: 6.58, U: 0.01}},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, s := range a.Steps {
		fmt.Printf("near pH %.2f: %.4f mol/L, by theory %.4f\n", s.PH, s.Beta.Value, s.Theory)
	}
	// Output:
	// near pH 6.81: 0.0280 mol/L, by theory 0.0296
	// near pH 6.66: 0.0236 mol/L, by theory 0.0269
}

// mixture of acetic acid and acetate.
func acetate(c float64) equilibrium.Mixture {
	m := equilibrium.Mixture{Celsius: uncertain.Exact(25)}
	for _, text := range []string{"CH3COOH", "CH3COONa"} {
		compound, _ := equilibrium.CompoundOf(text)
		m.Add(compound, uncertain.Exact(c))
	}
	return m
}

// simulated beaker: what theory reads, off by so much and scattered.
func simulated(m equilibrium.Mixture, acid bool, portions int, offset, scatter float64, random *rand.Rand) Vessel {
	v := Vessel{Volume: uncertain.Exact(50), Mixture: m, Acid: acid, C: uncertain.Exact(0.1)}
	var volumes []float64
	for i := range portions + 1 {
		volumes = append(volumes, 2*float64(i))
	}
	for i, x := range v.Theory(volumes) {
		v.Points = append(
			v.Points,
			Point{ID: fmt.Sprint(i), Added: uncertain.Exact(x.Volume), PH: uncertain.New(x.PH+offset+scatter*random.NormFloat64(), 0.01,
				uncertain.Source{ID: fmt.Sprint("r", i)})},
		)
	}
	return v
}

// Recomputed independently: 20.00 mL of acetic 0.050 + acetate 0.050 and 5.00 mL of 0.10 HCl.
func TestTheoryOfABeaker(t *testing.T) {
	v := Vessel{Volume: uncertain.Exact(20), Mixture: acetate(0.05), Acid: true, C: uncertain.Exact(0.1)}
	if got := v.Theory([]float64{5})[0].PH; math.Abs(got-4.202) > 0.002 {
		t.Errorf("pH %.4f, want 4.202", got)
	}
	water := Vessel{Volume: uncertain.Exact(20), Mixture: equilibrium.Mixture{Celsius: uncertain.Exact(25)}, C: uncertain.Exact(0.1)}
	if got := water.Theory([]float64{5})[0].PH; math.Abs(got-12.236) > 0.002 {
		t.Errorf("water: pH %.4f, want 12.236", got)
	}
}

// Small steps of theory give the capacity that the balance has by itself.
func TestStepsGiveTheCapacity(t *testing.T) {
	v := Vessel{Volume: uncertain.Exact(50), Mixture: acetate(0.05), Acid: true, C: uncertain.Exact(0.1)}
	for i, x := range v.Theory([]float64{0, 0.2, 0.4}) {
		v.Points = append(v.Points, Point{ID: fmt.Sprint(i), Added: uncertain.Exact(x.Volume), PH: uncertain.Exact(x.PH)})
	}
	s, _ := v.Mixture.Solver()
	s.Solve()
	want := s.Capacity(nil).Total
	for _, step := range v.Steps(nil) {
		// Adding acid thins the buffer too, and thinner its pH is a little higher: 2 % here.
		if math.Abs(step.Beta.Value-want) > 0.03*want || math.Abs(step.Theory-step.Beta.Value) > 1e-9 {
			t.Errorf("β %.5f, theory %.5f, of the balance %.5f", step.Beta.Value, step.Theory, want)
		}
	}
	if _, ok := v.ToOne(); ok {
		t.Error("it has not moved by one")
	}
	// By hand: 2 mL of 0.1 mol/L into 50 mL, half way 51 mL, over 0.2 pH.
	hand := Vessel{Volume: uncertain.Exact(50), Mixture: acetate(0.05), C: uncertain.Exact(0.1), Points: []Point{
		{PH: uncertain.Exact(4.6)},
		{Added: uncertain.Exact(2), PH: uncertain.Exact(4.8)},
		{Added: uncertain.Exact(10), PH: uncertain.Exact(5.8)},
	}}
	if got := hand.Steps(nil)[0].Beta.Value; math.Abs(got-0.1*2/51/0.2) > 1e-12 {
		t.Errorf("β %v", got)
	}
	// One pH is reached at four fifths of the way from 2 to 10 mL: 8.4 mL.
	if c, ok := hand.ToOne(); !ok || math.Abs(c.Value-0.1*8.4/50) > 1e-12 {
		t.Errorf("to one pH: %v", c)
	}
}

// How far the wrong way counts as wrong, and how small a step tells nothing, is the lab's to set.
func TestStepsGoByTheThresholdsOfTheLab(t *testing.T) {
	for _, c := range []struct {
		moved        float64
		set          verdict.Thresholds
		wrong, small bool
	}{
		{-0.019, nil, false, true},
		{-0.021, nil, true, true},
		{-0.021, verdict.Thresholds{RuleWay.ID: 0.05}, false, true},
		{0.02, nil, false, false},
		{0.02, verdict.Thresholds{RuleMoves.ID: 5}, false, true},
	} {
		v := Vessel{Volume: uncertain.Exact(50), Mixture: acetate(0.05), C: uncertain.Exact(0.1), Points: []Point{
			{PH: uncertain.Exact(4.6)},
			{Added: uncertain.Exact(1), PH: uncertain.New(4.6+c.moved, 0.005, uncertain.Source{ID: "reading"})},
		}}
		if s := v.Steps(c.set)[0]; s.Wrong != c.wrong || s.Small != c.small {
			t.Errorf("%g with %v: %+v", c.moved, c.set, s)
		}
	}
}

// A step that is lost in its uncertainty tells no capacity.
func TestSmallSteps(t *testing.T) {
	at := func(pH float64, id string) uncertain.Number {
		return uncertain.New(pH, 0.01, uncertain.Source{ID: id})
	}
	for moved, small := range map[float64]bool{0.041: true, 0.044: false} { // u of the difference is 0.0141
		v := Vessel{
			Volume: uncertain.Exact(50), Mixture: acetate(0.05), C: uncertain.Exact(0.1),
			Points: []Point{{PH: at(4.6, "a")}, {Added: uncertain.Exact(1), PH: at(4.6+moved, "b")}},
		}
		if s := v.Steps(nil)[0]; s.Small != small || s.Wrong {
			t.Errorf("moved by %g: %+v", moved, s)
		}
	}
}

// What is found beside theory, just under and over what the rule lets pass.
func TestFitIsJudged(t *testing.T) {
	r := plan()
	known := func(x, u float64) uncertain.Number { return uncertain.New(x, u, uncertain.Source{ID: "x"}) }
	for _, x := range []struct {
		fit  Fit
		want verdict.Level
	}{
		{Fit{known(1, 0.01), known(0.049, 0.01), 0.01}, verdict.Fine},
		{Fit{known(1, 0.01), known(0.051, 0.01), 0.01}, verdict.Look},
		{Fit{known(1, 0.01), known(-0.051, 0.01), 0.01}, verdict.Look},
		{Fit{known(1, 0.01), known(0, 0.01), 0.051}, verdict.Look},
		{Fit{known(1.119, 0.01), known(0, 0.01), 0.01}, verdict.Fine},
		{Fit{known(1.121, 0.01), known(0, 0.01), 0.01}, verdict.Look},
		{Fit{known(0.879, 0.01), known(0, 0.01), 0.01}, verdict.Look},
	} {
		if v := r.judgeFit(x.fit); v.Level != x.want {
			t.Errorf("%+v: %s", x.fit, v.Level)
		}
	}
}

// On simulated beakers strength and offset come back within their own uncertainty, in about
// 95 of 100.
func TestFitFindsStrengthAndOffset(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	within, tried := 0, 400
	for range tried {
		strength, offset := 0.8+0.4*random.Float64(), 0.1*random.NormFloat64()
		truth := acetate(0.05 * strength)
		list := []Vessel{simulated(truth, true, 6, offset, 0.01, random), simulated(truth, false, 6, offset, 0.01, random)}
		for i := range list {
			list[i].Mixture = acetate(0.05)
		}
		f, ok := FitBuffer(list)
		if !ok {
			t.Fatal("no fit")
		}
		if math.Abs(f.Strength.Value-strength) <= f.Strength.Expanded() && math.Abs(f.Offset.Value-offset) <= f.Offset.Expanded() {
			within++
		}
	}
	if share := float64(within) / float64(tried); share < 0.88 || share > 0.98 { // both at once
		t.Errorf("within their uncertainty in %.0f %%", 100*share)
	}
	if _, ok := FitBuffer([]Vessel{{Points: make([]Point, 3)}}); ok {
		t.Error("three readings were fitted")
	}
}

func TestFitTitrant(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	v := simulated(acetate(0.05), true, 6, 0.05, 0.003, random)
	v.C = uncertain.Exact(1) // not known
	c, ok := FitTitrant(v)
	if !ok || math.Abs(c.Value-0.1) > c.Expanded() || c.Relative() > 0.1 {
		t.Errorf("strength %v ± %v, %v", c.Value, c.Expanded(), ok)
	}
}

func TestQuestionsThatMakeNoSense(t *testing.T) {
	good := func() Question {
		return Question{Volume: 50, Celsius: 25, C: 0.1, Readings: []Reading{{PH: 7}, {Added: 1, PH: 7.2}}}
	}
	for field, spoil := range map[string]func(q *Question){
		"/volume":           func(q *Question) { q.Volume = 0 },
		"/covered":          func(q *Question) { q.Covered = -1 },
		"/c":                func(q *Question) { q.C = 0 },
		"/readings":         func(q *Question) { q.Readings = nil },
		"/readings/0/added": func(q *Question) { q.Readings[0].Added = 1; q.Readings[1].Added = 2 },
		"/readings/1/added": func(q *Question) { q.Readings[1].Added = 0 },
		"/readings/1/pH":    func(q *Question) { q.Readings[1].PH = 20 },
		"/readings/1/u":     func(q *Question) { q.Readings[1].U = -1 },
		"/drop":             func(q *Question) { q.Readings[1] = Reading{Drops: 5, PH: 7.2} },
		"/celsius":          func(q *Question) { q.Celsius = 80 },
	} {
		q := good()
		spoil(&q)
		_, err := Solve(q)
		if p, _ := err.(verdict.Problems); len(p) == 0 || p[0].Field != field { //nolint:errorlint // made here
			t.Errorf("%s: %v", field, err)
		}
	}
	// Drops count with the volume of one, water that covers the probe counts.
	q := good()
	q.Drop, q.Covered = 0.05, 10
	q.Readings = []Reading{{PH: 7}, {Drops: 20, PH: 9}, {Drops: 40, PH: 8.9}}
	a, err := Solve(q)
	if err != nil || math.Abs(a.Steps[0].Beta.Value-0.1*1/60.5/2) > 1e-12 || !a.Steps[1].Wrong || a.ToOne == nil {
		t.Errorf("%+v %v", a, err)
	}
	if len(a.Verdicts) != 1 || a.Verdicts[0].Rule != RuleWay.ID {
		t.Errorf("the wrong way: %+v", a.Verdicts)
	}
}

func BenchmarkFit(b *testing.B) {
	random := rand.New(rand.NewPCG(1, 2))
	list := []Vessel{simulated(acetate(0.05), true, 10, 0, 0.01, random), simulated(acetate(0.05), false, 10, 0, 0.01, random)}
	for b.Loop() {
		FitBuffer(list)
	}
}

// Water that covers the probe thins: so much of the buffer with as much water is the double volume of
// half the strength, whatever is added.
func TestWaterThatCoversTheProbeThins(t *testing.T) {
	solve := func(volume, covered, c float64) Answer {
		a, err := Solve(Question{
			Volume: volume, Covered: covered, Celsius: 25, Acid: true, C: 0.1,
			Contents: []equilibrium.Content{{Formula: "CH3COOH", C: c}, {Formula: "CH3COONa", C: c}},
			Readings: []Reading{{PH: 4.7, U: 0.01}, {Added: 4, PH: 4.5, U: 0.01}},
		})
		if err != nil {
			t.Fatal(err)
		}
		return a
	}
	covered, thin, whole := solve(50, 50, 0.05), solve(100, 0, 0.025), solve(50, 0, 0.05)
	for i := range covered.Theory {
		if math.Abs(covered.Theory[i].PH-thin.Theory[i].PH) > 1e-9 {
			t.Errorf("covered %+v, made thinner %+v", covered.Theory[i], thin.Theory[i])
		}
	}
	if whole.Theory[1].PH > covered.Theory[1].PH+0.1 || whole.Theory[1].PH < covered.Theory[1].PH-0.1 || whole.Theory[0].PH == covered.Theory[0].PH {
		t.Errorf("%+v, %+v", whole.Theory, covered.Theory)
	}
	// As much buffer as before neutralises the acid, so β for each litre is halved.
	if ratio := covered.Steps[0].Theory / whole.Steps[0].Theory; math.Abs(ratio-0.5) > 0.01 {
		t.Errorf("β covered to β uncovered: %.3f", ratio)
	}
}

// A buffer of equal parts has the capacity ln 10·c/4 where a strong acid does not matter (Van Slyke 1922):
// 0.1 pH of 50 mL, 0.1 mol/L, takes about 0.1·0.0576·50/0.1 mL of 0.1 mol/L acid. Theory of the beaker
// counts activities and dilution besides.
func TestPortionThatIsProposed(t *testing.T) {
	r := plan()
	r.Mixture = acetate(0.05)
	v := r.vessel(r.beakers()[0])
	got := v.portion(0.1, r.Volume)
	beta := math.Ln10 * (0.05 * 2) / 4
	if want := 0.1 * beta * r.Volume / 0.1; math.Abs(got/want-1) > 0.05 {
		t.Errorf("%g mL, want about %g", got, want)
	}
	if moved := v.moved(got); math.Abs(moved-0.1) > 1e-6 {
		t.Errorf("it moves the pH by %g", moved)
	}
	if v.portion(3, 0.01) != 0 {
		t.Error("a drop is enough to move it by 3")
	}
}

func TestMovesOfAPlan(t *testing.T) {
	of := func(change func(*Request)) (moves, take string) {
		r := plan()
		change(&r)
		d, err := r.Design()
		if err != nil {
			t.Fatal(err)
		}
		return d.(Design).Moves, d.(Design).Take //nolint:errcheck // its own kind
	}
	small, take := of(func(r *Request) { r.Portion = 0.5 })
	if !strings.HasPrefix(small, "One portion moves the pH by about 0.0") || !strings.Contains(small, " with acid, 0.0") || !strings.HasSuffix(small, " with base.") {
		t.Error(small)
	}
	portion, err := strconv.ParseFloat(take, 64)
	if err != nil {
		t.Fatal(take)
	}
	if moves, again := of(func(r *Request) { r.Portion = portion }); again != "" || !strings.Contains(moves, " 0.1") {
		t.Errorf("%s mL: %s, then %s", take, moves, again)
	}
	if _, take := of(func(r *Request) { r.Portion = 20 }); take == "" || take == "20" {
		t.Errorf("20 mL at once are let be: %s", take)
	}
	// Of acid and base the one that moves it more sets the portion.
	both := plan()
	both.Acid, both.Base, both.Portion = 0.5, 0.1, 0.1
	list := both.beakers()
	strong, weak := both.vessel(list[0]).portion(0.1, both.Volume), both.vessel(list[1]).portion(0.1, both.Volume)
	if _, take := of(func(r *Request) { r.Acid, r.Portion = 0.5, 0.1 }); strong >= weak || take != fmt.Sprintf("%.2g", strong) && !strings.HasPrefix(take, fmt.Sprintf("%.1f", strong)) {
		t.Errorf("take %s, for %g mL of acid and %g of base", take, strong, weak)
	}
	// One drop is as few as there are.
	if moves, take := of(func(r *Request) { r.Acid, r.Base, r.Drops, r.Portion = 10, 10, 1, 0.05 }); take != "" || !strings.Contains(moves, "0.") {
		t.Errorf("instead of one drop: %s, %s", take, moves)
	}
	drops, take := of(func(r *Request) { r.Drops, r.Portion = 2, 0.1 })
	if n, err := strconv.Atoi(take); err != nil || math.Abs(float64(n)*0.05-portion) > 0.1*portion {
		t.Errorf("%s drops, %s", take, drops)
	}
	if moves, take := of(func(r *Request) { r.Acid, r.Base, r.Dilution = 0, 0, 50 }); moves+take != "" {
		t.Errorf("nothing is added: %s %s", moves, take)
	}
	if moves, _ := of(func(r *Request) { r.Drink = "A soft drink" }); strings.Contains(moves, "acid") {
		t.Errorf("of an unknown strength: %s", moves)
	}
}

func TestNeedsOfTheShelf(t *testing.T) {
	r := plan()
	r.Bottle, r.Baths, r.Dilution = "b1", []float64{5, 40}, 50
	r.AcidFrom = titrant(t, "Hydrochloric acid, 0.1 mol/L", "HCl")
	list := map[string]float64{}
	for _, s := range r.Uses().Sources {
		list[s.Role] = s.Needs
	}
	// With acid, with base, diluted, and two baths; the water beside them takes none.
	v := r.vessel(r.beakers()[0])
	if list[RoleBuffer] != 250 || math.Abs(v.moved(list[RoleAcid])-1) > 1e-6 {
		t.Errorf("%v", list)
	}
}
