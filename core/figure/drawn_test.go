package figure_test

import (
	"encoding/json"
	"math"
	"slices"
	"testing"

	"vialbench/core/figure"
)

func TestDrawn(t *testing.T) {
	for _, c := range []struct {
		drawn figure.Drawn
		want  string
	}{
		{nil, "null"},
		{figure.Drawn{}, "[]"},
		{figure.Drawn{0, -1, 7.0000001, 0.123456, -0.0000123456, 1234567}, "[0,-1,7,0.12346,-1.2346e-05,1.2346e+06]"},
	} {
		text, err := json.Marshal(c.drawn)
		if err != nil || string(text) != c.want {
			t.Errorf("%s, %v, want %s", text, err, c.want)
		}
		var back figure.Drawn
		if err := json.Unmarshal(text, &back); err != nil || len(back) != len(c.drawn) {
			t.Errorf("%v, %v", back, err)
		}
		if !slices.EqualFunc(c.drawn, back, func(a, b float64) bool { return math.Abs(a-b) <= 5e-5*math.Abs(a) }) {
			t.Errorf("%v comes back as %v", c.drawn, back)
		}
	}
	for _, x := range []float64{math.NaN(), math.Inf(-1)} {
		if text, err := json.Marshal(figure.Drawn{1, x}); err == nil {
			t.Errorf("%g is written as %s", x, text)
		}
	}
}
