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
