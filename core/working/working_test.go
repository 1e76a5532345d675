package working_test

import (
	"fmt"
	"strings"
	"testing"

	"vialbench/core/uncertain"
	"vialbench/core/working"
)

func Example() {
	m := uncertain.New(204.22233, 0.0047, uncertain.Source{ID: "M"})
	fmt.Println(working.Value(m, "g/mol"))
	fmt.Println(working.Result(m, "g/mol"))
	// Output:
	// 204.2223\,\mathrm{g/mol}
	// 204.2223 ± 0.0094 g/mol
}

func TestValueWritesWhatIsKnown(t *testing.T) {
	for _, c := range []struct {
		n    uncertain.Number
		unit string
		want string
	}{
		{uncertain.Exact(250), "mL", `250\,\mathrm{mL}`},
		{uncertain.Exact(-3.5), "°C", `-3.5\,\mathrm{{}^{\circ}C}`},
		{uncertain.New(0.9995, 0.00029, uncertain.Source{}), "", "0.99950"},
		{uncertain.New(1234, 56, uncertain.Source{}), "µg", `1234\,\mathrm{\mu g}`},
		{uncertain.Exact(0.5), "% w/w", `0.5\,\mathrm{\% w/w}`},
	} {
		if got := working.Value(c.n, c.unit); got != c.want {
			t.Errorf("Value(%g, %s) = %s, want %s", c.n.Value, c.unit, got, c.want)
		}
	}
}

// A long sum breaks after every second term; a short one stays on its line.
func TestSumBreaks(t *testing.T) {
	if got := working.Sum([]string{"a", "b"}); got != "a + b" {
		t.Error(got)
	}
	long := working.Sum([]string{"a", "b", "c", "d", "e"})
	if strings.Count(long, `\\`) != 2 || strings.Count(long, "+") != 4 || !strings.HasSuffix(long, `\end{aligned}`) {
		t.Error(long)
	}
}

// The last line of a working: k is 2, or Student's t for what depends on few readings.
func TestUncertainty(t *testing.T) {
	n := uncertain.New(0.5, 0.003, uncertain.Source{ID: "a", Label: "balance", Basis: "0.1 mg"}).
		Plus(uncertain.New(0, 4e-5, uncertain.Source{ID: "b", Label: "flask", Basis: "class A"}))
	lines := working.Uncertainty(n, "mol/L")
	if len(lines) != 1 || lines[0].Title != "Uncertainty, k = 2" || lines[0].Result != "0.0060 mol/L" ||
		lines[0].Substituted != `U = 2\,\sqrt{(0.003)^2 + (4 \times 10^{-5})^2}\,\mathrm{mol/L}` ||
		lines[0].From[0] != "balance 100 %: 0.1 mg" || lines[0].From[1] != "flask 0 %: class A" {
		t.Errorf("%+v", lines)
	}
	few := working.Uncertainty(uncertain.New(1, 0.01, uncertain.Source{ID: "s", DoF: 4}), "")
	if few[0].Title != "Uncertainty, k = 2.78" || strings.TrimSpace(few[0].Result) != "0.028" { // t of 4 degrees of freedom, 95 %: 2.776
		t.Errorf("%+v", few)
	}
	if got := working.Uncertainty(uncertain.Exact(1), ""); got != nil {
		t.Errorf("exact: %+v", got)
	}
}

func TestNumbersWithoutUncertainty(t *testing.T) {
	for got, want := range map[string]string{
		working.Number(0.0123456): "0.012346", working.Number(-1.5): "-1.5", working.Number(0): "0",
		working.Number(1.8e-5): `1.8000 \times 10^{-5}`, working.Number(0.001): "0.001",
		working.SayNumber(0.12345): "0.123", working.SayNumber(1.754e-5): "1.75 × 10⁻⁵", working.SayNumber(-2): "−2",
	} {
		if got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
}
