package workingtest_test

import (
	"math"
	"testing"

	"vialbench/core/working/workingtest"
)

// The reader does what it is there for: it computes lines by hand-checked examples, and
// does not pass over what it cannot read.
func TestEvaluate(t *testing.T) {
	for latex, want := range map[string]float64{
		`m = 2 + 3 \times 4`:                  14,
		`c = \frac{6}{4} - 0.5`:               1,
		`u = \sqrt{3^2 + 4^2}`:                5,
		`m = 250\,\mathrm{mL} \times 2`:       0.5,
		`x = (1 + 2)^2`:                       9,
		`n = 2 \times 10^{-3}`:                0.002,
		`x = -\frac{(-6) \times (2)}{(-2)^2}`: 3,
		`12 \le y \le 14`:                     13,
		`V \approx 100\,\mathrm{\mu L}`:       1e-4,
		`\frac{1}{\frac{1}{2}} \times 3`:      6,
		`c = 1\,\mathrm{mol/kg} \times 1000 `: 1,
	} {
		if got, err := workingtest.Evaluate(latex); err != nil || math.Abs(got-want) > 1e-12*want {
			t.Errorf("%s is %g, %v; want %g", latex, got, err, want)
		}
	}
	for _, latex := range []string{``, `m = `, `m = x`, `m = \frac{1}{2`, `m = \sqrt{4`, `m = 1\,\mathrm{stone}`, `m = 1 \div 2`, `m = (1 + 2`} {
		if got, err := workingtest.Evaluate(latex); err == nil {
			t.Errorf("%q was read as %g", latex, got)
		}
	}
}
