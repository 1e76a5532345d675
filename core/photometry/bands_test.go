package photometry_test

import (
	"math"
	"testing"

	"vialbench/core/photometry"
)

// Permanganate is purple (common practice). Broad bands look otherwise than the colour of their centre, and are left out.
func TestBands(t *testing.T) {
	for key, want := range map[string]string{"permanganate": "purple", "pond-blue": "blue-green"} {
		c, ok := photometry.BandsOf(key)
		if _, seen := photometry.Colours(c.Bands[0].Centre); !ok || seen != want {
			t.Errorf("%s looks %s, want %s", key, seen, want)
		}
	}
	for _, c := range photometry.Bands() {
		if c.Source == "" || c.Name == "" || len(c.Bands) == 0 {
			t.Errorf("%+v", c)
		}
	}
	if _, ok := photometry.BandsOf("coffee"); ok {
		t.Error("coffee has bands")
	}
	// One band: its height at the centre, half of it half a width away, and √2 lower with a bandwidth as wide.
	c := photometry.Coloured{Bands: []photometry.Band{{Centre: 500, Width: 60, Epsilon: 1000}}}
	near(t, "centre", c.At(500, 1e-3, 1, 0), 1, 1e-12)
	near(t, "half", c.At(530, 1e-3, 1, 0), 0.5, 1e-12)
	near(t, "half on the other side, 4 mm", c.At(470, 1e-3, 0.4, 0), 0.2, 1e-12)
	near(t, "with a bandwidth", c.At(500, 1e-3, 1, 60), 1/math.Sqrt2, 1e-12)
}
