package curve

import (
	"math"
	"math/rand/v2"
	"testing"
)

// measured is a curve as it is read: 1 mL at a time far away, a tenth near the equivalences.
func measured(c Curve, noise float64, random *rand.Rand) []Point {
	at := c.Equivalences()
	end := 1.5 * at[len(at)-1]
	var volumes []float64
	for v := 0.0; v <= end; {
		volumes = append(volumes, v)
		step := 1.0
		for _, e := range at {
			if math.Abs(v-e) < 1.05 {
				step = 0.1
			}
		}
		v = math.Round(100*(v+step)) / 100
	}
	var list []Point
	for i, pH := range c.At(volumes) {
		if random != nil {
			pH += noise * random.NormFloat64()
		}
		list = append(list, Point{volumes[i], pH})
	}
	return list
}

// A parabola has the slopes that it has, however uneven the steps.
func TestSlopesOfAParabola(t *testing.T) {
	var points []Point
	for _, v := range []float64{0, 0.1, 0.5, 0.6, 1.7, 2, 2.05, 4} {
		points = append(points, Point{v, 3 + 0.5*v + 0.25*v*v})
	}
	for _, s := range Slopes(points) {
		if math.Abs(s.First-(0.5+0.5*s.Volume)) > 1e-9 || math.Abs(s.Second-0.5) > 1e-8 {
			t.Errorf("%+v", s)
		}
	}
	if len(Slopes(points[:4])) != 0 || EndPoints(points[:3]) != nil {
		t.Error("slopes of four points")
	}
	// Two readings at one volume are one, their mean.
	if m := merged([]Point{{1, 4}, {1, 5}, {2, 6}}); len(m) != 2 || m[0].PH != 4.5 {
		t.Errorf("%v", m)
	}
}

func TestEndPoints(t *testing.T) {
	for _, x := range []struct {
		analyte, titrant string
		want             []float64
	}{
		{"HCl", "NaOH", []float64{25}},
		{"CH3COOH", "NaOH", []float64{25}},
		{"H3PO4", "NaOH", []float64{25, 50}}, // the third shows in no slope
		{"Na2CO3", "HCl", []float64{25, 50}},
		{"NH3", "HCl", []float64{25}},
	} {
		c := of(t, x.analyte, 0.1, x.titrant)
		got := EndPoints(measured(c, 0, nil))
		if len(got) != len(x.want) {
			t.Errorf("%s: %+v", x.analyte, got)
			continue
		}
		for i, e := range got {
			if math.Abs(e.Volume-x.want[i]) > 0.06 {
				t.Errorf("%s: end point at %.3f mL, want %g", x.analyte, e.Volume, x.want[i])
			}
		}
	}
}

func TestGran(t *testing.T) {
	acetic := of(t, "CH3COOH", 0.1, "NaOH")
	// Gran takes activity coefficients for constant: as the salt grows, that is off by 0.4 % here.
	before, after := GranLines(measured(acetic, 0, nil), 25, 25, 0, true, false)
	if before == nil || after == nil || math.Abs(before.Volume-25) > 0.12 || math.Abs(after.Volume-25) > 0.15 || before.N < 8 {
		t.Errorf("acetic acid: %+v %+v", before, after)
	}
	strong := of(t, "HCl", 0.1, "NaOH")
	if before, _ := GranLines(measured(strong, 0, nil), 25, 25, 0, true, true); before == nil || math.Abs(before.Volume-25) > 0.15 {
		t.Errorf("hydrochloric acid: %+v", before)
	}
	ammonia := of(t, "NH3", 0.1, "HCl")
	if before, _ := GranLines(measured(ammonia, 0, nil), 25, 25, 0, false, false); before == nil || math.Abs(before.Volume-25) > 0.1 {
		t.Errorf("ammonia: %+v", before)
	}
	if before, after := GranLines(measured(acetic, 0, nil)[:3], 25, 25, 0, true, false); before != nil || after != nil {
		t.Error("a line through nothing")
	}
	// The standard error covers the scatter: a point to 0.02 pH.
	random := rand.New(rand.NewPCG(7, 7))
	hits := 0
	for range 200 {
		if g, _ := GranLines(measured(acetic, 0.01, random), 25, 25, 0, true, false); math.Abs(g.Volume-25) < 3*g.SE+0.05 {
			hits++
		}
	}
	if hits < 190 {
		t.Errorf("%d of 200 within three standard errors", hits)
	}
}

// The readings that a line of Gran goes through lie on it, the largest at 1, and the line meets zero at the
// volume that it points to: of a strong acid it is straight by definition (Analyst 77 (1952) 661).
func TestGranIsDrawn(t *testing.T) {
	before, after := GranLines(measured(of(t, "HCl", 0.1, "NaOH"), 0, nil), 25, 25, 0, true, true)
	for name, g := range map[string]*Gran{"before": before, "after": after} {
		if g == nil || len(g.Points) != g.N || g.Points[0].Volume != g.From || g.Points[g.N-1].Volume != g.To {
			t.Fatalf("%s: %+v", name, g)
		}
		most := 0.0
		for _, p := range g.Points {
			most = max(most, p.Value)
			if off := p.Value - g.Slope*(p.Volume-g.Volume); math.Abs(off) > 0.03 {
				t.Errorf("%s: at %g mL %.3f off the line", name, p.Volume, off)
			}
		}
		if math.Abs(most-1) > 1e-12 || (g.Slope < 0) != (name == "before") {
			t.Errorf("%s: largest %g, slope %g", name, most, g.Slope)
		}
	}
}

// Half way to the equivalence of acetic acid as much of it is acetate as is not, but for the 0.4 % that its own
// protons are; past the end nearly all is. Of phosphoric acid each form has its turn.
func TestFormsAlongACurve(t *testing.T) {
	forms := of(t, "CH3COOH", 0.1, "NaOH").Forms([]float64{0, 12.5, 30})
	if len(forms) != 2 || forms[0].Formula != "C2H4O2" || forms[1].Formula != "C2H3O2-" {
		t.Fatalf("%+v", forms)
	}
	for _, x := range []struct{ got, want, within float64 }{
		{forms[1].Shares[0], 0.013, 0.001}, // Ostwald: √(Ka/c) for pKa 4.756 and 0.1 mol/L
		{forms[1].Shares[1], 0.5, 0.003},
		{forms[1].Shares[2], 1, 1e-5},
	} {
		if math.Abs(x.got-x.want) > x.within {
			t.Errorf("acetate %.5f, want %.5f", x.got, x.want)
		}
	}
	phosphate := of(t, "H3PO4", 0.1, "NaOH").Forms([]float64{0, 25, 50})
	for i := range 3 {
		sum, most := 0.0, 0
		for k, f := range phosphate {
			sum += f.Shares[i]
			if f.Shares[i] > phosphate[most].Shares[i] {
				most = k
			}
		}
		if math.Abs(sum-1) > 1e-9 || most != i {
			t.Errorf("after %d portions: %s is most, together %g", i, phosphate[most].Formula, sum)
		}
	}
	if of(t, "HCl", 0.1, "NaOH").Forms([]float64{1}) != nil {
		t.Error("a strong acid has forms")
	}
}
