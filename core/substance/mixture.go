package substance

import (
	"math"
	"slices"
	"strings"
)

// Ingredient is a substance in a solution: what is needed to say how hazardous the
// solution is, and everything that is made from it.
type Ingredient struct {
	Key string `json:"key"`
	// Grams of the compound in a litre.
	Grams   float64  `json:"grams"`
	Hazards []string `json:"hazards,omitempty"`
}

// Diluted is the same ingredients at another strength.
func Diluted(list []Ingredient, factor float64) []Ingredient {
	out := slices.Clone(list)
	for i := range out {
		out[i].Grams *= factor
	}
	return out
}

// fraction is the mass fraction in a solution that weighs 1 kg per litre: a little too
// much for a dense one, which is the safe side.
func (i Ingredient) fraction() float64 { return math.Min(1, i.Grams/1000) }

// generic is a class of hazard that a mixture has from a sum of mass fractions on.
// Sources: Regulation (EC) 1272/2008 (CLP), annex I, tables 3.2.3, 3.3.3, 3.4.5, 3.5.2,
// 3.6.2, 3.7.2, 3.8.2, 3.8.3, 3.9.4, 4.1.1 to 4.1.2, from memory; the UN GHS has the same
// limits where it has one.
type generic struct {
	code string   // of the mixture
	of   []string // hazards of the ingredients that count
	from float64  // mass fraction
}

var generics = []generic{
	{"H314", []string{"H314"}, 0.05},
	{"H315", []string{"H314"}, 0.01},
	{"H315", []string{"H315"}, 0.10},
	{"H318", []string{"H314", "H318"}, 0.03},
	{"H319", []string{"H314", "H318"}, 0.01},
	{"H319", []string{"H319"}, 0.10},
	{"H317", []string{"H317"}, 0.01},
	{"H334", []string{"H334"}, 0.01},
	{"H340", []string{"H340"}, 0.001},
	{"H341", []string{"H341"}, 0.01},
	{"H350", []string{"H350"}, 0.001},
	{"H350i", []string{"H350i"}, 0.001},
	{"H351", []string{"H351"}, 0.01},
	{"H360D", []string{"H360D"}, 0.003},
	{"H360Df", []string{"H360Df"}, 0.003},
	{"H360F", []string{"H360F"}, 0.003},
	{"H360FD", []string{"H360FD"}, 0.003},
	{"H361d", []string{"H361d"}, 0.03},
	{"H335", []string{"H335"}, 0.20},
	{"H336", []string{"H336"}, 0.20},
	{"H370", []string{"H370"}, 0.10},
	{"H371", []string{"H370"}, 0.01},
	{"H372", []string{"H372"}, 0.10},
	{"H373", []string{"H372"}, 0.01},
	{"H373", []string{"H373"}, 0.10},
	{"H400", []string{"H400", "H410"}, 0.25},
	{"H410", []string{"H410"}, 0.25},
	{"H411", []string{"H410"}, 0.025},
	{"H411", []string{"H411"}, 0.25},
	{"H412", []string{"H410"}, 0.0025},
	{"H412", []string{"H411"}, 0.025},
	{"H412", []string{"H412"}, 0.25},
	// Physical hazards have no rule of calculation. Common practice: an oxidiser in much
	// water feeds no fire, a spirit burns from about a fifth on, and whatever corrodes
	// skin or eyes at this strength is kept off metal.
	{"H271", []string{"H271"}, 0.70},
	{"H272", []string{"H271", "H272"}, 0.50},
	{"H225", []string{"H225"}, 0.50},
	{"H226", []string{"H225", "H226"}, 0.20},
	{"H290", []string{"H290"}, 0.002},
}

// specific limits of annex VI of the same regulation, from memory, by the beginning of a
// key: what a mixture has from a mass fraction on. They stand in the place of the
// generic limits of the same harm.
var specific = map[string][]band{
	"hydrochloric-acid":    {{0.25, "H314"}, {0.10, "H315 H319"}, {0.10, "H335"}},
	"hydrobromic-acid":     {{0.40, "H314"}, {0.10, "H315 H319"}, {0.10, "H335"}},
	"sulfuric-acid":        {{0.15, "H314"}, {0.05, "H315 H319"}},
	"nitric-acid":          {{0.05, "H314"}, {0.65, "H272"}},
	"phosphoric-acid":      {{0.25, "H314"}, {0.10, "H315 H319"}},
	"perchloric-acid":      {{0.10, "H314"}, {0.01, "H315 H319"}, {0.50, "H271"}},
	"acetic-acid":          {{0.25, "H314"}, {0.10, "H315 H319"}},
	"formic-acid":          {{0.10, "H314"}, {0.02, "H315 H319"}},
	"propionic-acid":       {{0.25, "H314"}, {0.10, "H315 H319"}, {0.10, "H335"}},
	"sodium-hydroxide":     {{0.02, "H314"}, {0.005, "H315 H319"}},
	"potassium-hydroxide":  {{0.02, "H314"}, {0.005, "H315 H319"}},
	"ammonia-solution":     {{0.05, "H314"}, {0.05, "H335"}},
	"hydrogen-peroxide":    {{0.50, "H314"}, {0.35, "H315 H318"}, {0.08, "H318"}, {0.05, "H319"}, {0.35, "H335"}, {0.50, "H271"}},
	"formaldehyde":         {{0.25, "H314"}, {0.05, "H315 H319"}, {0.05, "H335"}, {0.002, "H317"}},
	"phenol":               {{0.03, "H314"}, {0.01, "H315 H319"}},
	"potassium-dichromate": {{0.002, "H317"}, {0.05, "H335"}, {0.002, "H334"}, {0.05, "H314"}},
	"cobalt":               {{0.0001, "H350i"}},
	"nickel":               {{0.20, "H315"}, {0.0001, "H317"}, {0.01, "H372"}, {0.001, "H373"}},
	"methanol":             {{0.10, "H370"}, {0.03, "H371"}},
}

// band is what a mixture has from a mass fraction on.
type band struct {
	from  float64
	codes string
}

// multiplying factors M of what is very toxic to water life (annex VI, from memory).
var toxicity = map[string]float64{
	"silver-nitrate": 1000, "silver-sulfate": 1000, "copper": 10, "cobalt": 10, "sodium-hypochlorite-solution": 10,
}

// The kinds of harm: within one, a specific limit takes the place of the generic ones, and
// the graver code makes the milder one needless.
var harms = [][]string{
	{"H314", "H315"},
	{"H314", "H318", "H319"},
	{"H370", "H371"},
	{"H372", "H373"},
	{"H271", "H272"},
	{"H225", "H226"},
	{"H340", "H341"},
	{"H350", "H350i", "H351"},
	{"H360FD", "H360Df", "H360D", "H360F", "H361d"},
	{"H410", "H400"},
	{"H410", "H411", "H412"},
	{"H300", "H301", "H302"},
	{"H310", "H311", "H312"},
	{"H330", "H331", "H332"},
	{"H317"},
	{"H334"},
	{"H335"},
	{"H336"},
}

// acute is the way that an acute toxicity takes, with the point estimates of its
// ingredients and the limits of its categories for a mixture (annex I, tables 3.1.1
// and 3.1.2; mg/kg by mouth and skin, mg/L of vapour).
type acute struct {
	codes  [3]string  // fatal, toxic, harmful
	point  [3]float64 // of an ingredient with that code; fatal by the milder of its two categories
	limits [3]float64 // at most, of a mixture
}

var acutes = []acute{
	{[3]string{"H300", "H301", "H302"}, [3]float64{5, 100, 500}, [3]float64{50, 300, 2000}},
	{[3]string{"H310", "H311", "H312"}, [3]float64{50, 300, 1100}, [3]float64{200, 1000, 2000}},
	{[3]string{"H330", "H331", "H332"}, [3]float64{0.5, 3, 11}, [3]float64{2, 10, 20}},
}

// of is the code of a mixture; empty when it is not acutely toxic in this way.
func (a acute) of(list []Ingredient) string {
	inverse := 0.0 // 1/ATE of the mixture
	for _, x := range list {
		for k, code := range a.codes {
			if slices.Contains(x.Hazards, code) {
				inverse += x.fraction() / a.point[k]
				break
			}
		}
	}
	for k, limit := range a.limits {
		if inverse > 0 && 1/inverse <= limit {
			return a.codes[k]
		}
	}
	return ""
}

// Classify gives the GHS hazard codes of a solution and its signal word, by adding up
// what is in it:
//
//	class from Σ wᵢ ≥ limit,    acute toxicity 1/ATE = Σ wᵢ/ATEᵢ
//
// It is a guide: the data sheet of what was bought comes first.
func Classify(list []Ingredient) (codes []string, signal string) {
	codes = []string{}
	add := func(code string) {
		if !slices.Contains(codes, code) {
			codes = append(codes, code)
		}
	}
	own := make([][]band, len(list))
	for i, x := range list {
		for key, bands := range specific {
			if isOne(x.Key, key) {
				own[i] = bands
			}
		}
		for _, b := range own[i] {
			if x.fraction() >= b.from && !graver(own[i], b, x.fraction()) {
				for _, code := range strings.Fields(b.codes) {
					add(code)
				}
			}
		}
	}
	for _, g := range generics {
		sum := 0.0
		for i, x := range list {
			if slices.ContainsFunc(x.Hazards, func(h string) bool { return slices.Contains(g.of, h) }) && !covers(own[i], g.code) {
				m := 1.0
				if strings.HasPrefix(g.code, "H4") {
					m = multiplier(x.Key)
				}
				sum += m * x.fraction()
			}
		}
		if sum >= g.from {
			add(g.code)
		}
	}
	for _, a := range acutes {
		if code := a.of(list); code != "" {
			add(code)
		}
	}
	codes = gravest(codes)
	slices.Sort(codes)
	return codes, Signal(codes)
}

// covers reports whether specific limits say something of the harm that a code is of.
func covers(bands []band, code string) bool {
	return slices.ContainsFunc(bands, func(b band) bool {
		return slices.ContainsFunc(strings.Fields(b.codes), func(own string) bool { return sameHarm(own, code) })
	})
}

// graver reports whether another band of the same harm, further up, applies too.
func graver(bands []band, b band, fraction float64) bool {
	return slices.ContainsFunc(bands, func(other band) bool {
		return other.from > b.from && fraction >= other.from && sameHarm(strings.Fields(other.codes)[0], strings.Fields(b.codes)[0])
	})
}

func sameHarm(a, b string) bool {
	return slices.ContainsFunc(harms, func(h []string) bool { return slices.Contains(h, a) && slices.Contains(h, b) })
}

// gravest drops a code where a graver one of the same harm stands.
func gravest(codes []string) []string {
	return slices.DeleteFunc(codes, func(code string) bool {
		for _, h := range harms {
			for _, worse := range h[:max(0, slices.Index(h, code))] {
				if slices.Contains(codes, worse) {
					return true
				}
			}
		}
		return false
	})
}

func multiplier(key string) float64 {
	for prefix, m := range toxicity {
		if isOne(key, prefix) {
			return m
		}
	}
	return 1
}

// isOne reports whether a key is of a family: of that name, or beginning with it.
func isOne(key, family string) bool {
	rest, ok := strings.CutPrefix(key, family)
	return ok && (rest == "" || rest[0] == '-')
}

// dangers are the codes that call for the word Danger (UN GHS, annex 1, from memory).
var dangers = []string{
	"H225",
	"H228",
	"H271",
	"H300",
	"H301",
	"H310",
	"H311",
	"H314",
	"H318",
	"H330",
	"H331",
	"H334",
	"H340",
	"H350",
	"H350i",
	"H360D",
	"H360Df",
	"H360F",
	"H360FD",
	"H370",
	"H372",
}

// silent are the codes that call for no signal word.
var silent = []string{"H411", "H412", "H413"}

// Signal is the signal word for hazard codes: Danger, Warning or none.
func Signal(codes []string) string {
	word := ""
	for _, code := range codes {
		switch {
		case slices.Contains(dangers, code):
			return "Danger"
		case !slices.Contains(silent, code):
			word = "Warning"
		}
	}
	return word
}
