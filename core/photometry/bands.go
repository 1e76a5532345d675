package photometry

import "math"

// Coloured is a substance with the bands that it absorbs in.
type Coloured struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Bands []Band `json:"bands"`
	// Source says where the bands come from; shapes are Gaussian, their widths read from drawings.
	Source string `json:"source"`
}

// Band is an absorption band: its centre and its width at half its height in nm, its molar absorptivity in L/(mol·cm).
type Band struct {
	Centre  float64 `json:"centre"`
	Width   float64 `json:"width"`
	Epsilon float64 `json:"epsilon"`
}

// Bands lists the coloured substances that are known here.
func Bands() []Coloured {
	return []Coloured{
		{"permanganate", "Permanganate", []Band{{526, 70, 2400}, {311, 40, 1800}}, "Harvey, Analytical Chemistry 2.1, from memory"},
		{"copper", "Copper(II) in water", []Band{{810, 190, 12}}, "common practice, from memory"},
		{"copper-ammine", "Copper(II) in ammonia", []Band{{600, 150, 55}}, "common practice, from memory"},
		{"cobalt", "Cobalt(II) in water", []Band{{511, 80, 4.8}}, "common practice, from memory"},
		{"nickel", "Nickel(II) in water", []Band{{394, 50, 5.2}, {720, 130, 2.2}}, "common practice, from memory"},
		{"iron-thiocyanate", "Iron(III) with thiocyanate", []Band{{450, 120, 4700}}, "common practice, from memory"},
		{"iron-phenanthroline", "Iron(II) with phenanthroline", []Band{{510, 95, 11_100}}, "Harvey, Analytical Chemistry 2.1, from memory"},
		{"molybdate-blue", "Phosphate as molybdate blue", []Band{{885, 230, 22_000}, {710, 170, 10_500}}, "J. Murphy and J. P. Riley, Anal. Chim. Acta 27 (1962) 31, from memory"},
		{"chromate", "Chromate", []Band{{372, 60, 4830}, {275, 45, 3700}}, "G. W. Haupt, J. Res. Natl. Bur. Stand. 48 (1952) 414, from memory"},
		{"alder-red", "Alder red, a made-up dye", []Band{{505, 90, 22_000}}, "made up"},
		{"pond-blue", "Pond blue, a made-up dye", []Band{{630, 55, 120_000}}, "made up"},
	}
}

// BandsOf finds a coloured substance by its key.
func BandsOf(key string) (c Coloured, ok bool) {
	for _, c := range Bands() {
		if c.Key == key {
			return c, true
		}
	}
	return c, false
}

// At is its absorbance at a wavelength in nm, of a concentration in mol/L through a path in cm, as a photometer of a bandwidth in nm
// sees it:
//
//	A = c·l·Σ εᵢ·(wᵢ/w)·exp(−4·ln 2·(λ − λᵢ)²/w²),   w² = wᵢ² + bandwidth²
func (c Coloured) At(nm, molar, path, bandwidth float64) float64 {
	sum := 0.0
	for _, b := range c.Bands {
		w := math.Hypot(b.Width, bandwidth)
		sum += b.Epsilon * b.Width / w * math.Exp(-4*math.Ln2*(nm-b.Centre)*(nm-b.Centre)/(w*w))
	}
	return molar * path * sum
}
