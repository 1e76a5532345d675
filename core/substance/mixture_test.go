package substance_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vialbench/core/formula"
	"vialbench/core/substance"
)

func ingredient(t testing.TB, key string, grams float64) substance.Ingredient {
	t.Helper()
	list := substance.Library()
	i := slices.IndexFunc(list, func(s substance.Substance) bool { return s.Key == key })
	if i < 0 {
		t.Fatalf("no %s in the library", key)
	}
	return substance.Ingredient{Key: key, Grams: grams, Hazards: list[i].Hazards}
}

// The limits of annex VI of Regulation (EC) 1272/2008 for the reagents of a teaching lab,
// just under and at each; the values are from memory.
func TestClassifyAtTheSpecificLimits(t *testing.T) {
	for _, c := range []struct {
		key   string
		grams float64
		want  string
	}{
		{"hydrochloric-acid", 1000 * 0.2501, "H290 H314 H335 Danger"},
		{"hydrochloric-acid", 1000 * 0.2499, "H290 H315 H319 H335 Warning"},
		{"hydrochloric-acid", 100, "H290 H315 H319 H335 Warning"},
		{"hydrochloric-acid", 99.9, "H290 Warning"},
		{"hydrochloric-acid", 3.65, "H290 Warning"}, // 0.1 mol/L, which annex VI leaves with H290 alone
		{"hydrochloric-acid", 1.9, " "},
		{"sulfuric-acid", 150, "H290 H314 Danger"},
		{"sulfuric-acid", 149, "H290 H315 H319 Warning"},
		{"sulfuric-acid", 49, "H290 Warning"},
		{"nitric-acid", 50, "H290 H314 Danger"},
		{"acetic-acid-glacial", 250, "H226 H314 Danger"},
		{"acetic-acid-glacial", 100, "H315 H319 Warning"},
		{"acetic-acid-glacial", 99, " "},
		{"sodium-hydroxide", 20, "H290 H314 Danger"},
		{"sodium-hydroxide", 19.9, "H290 H315 H319 Warning"},
		{"sodium-hydroxide", 5, "H290 H315 H319 Warning"},
		{"sodium-hydroxide", 4, "H290 Warning"}, // 0.1 mol/L
		{"ammonia-solution", 50, "H290 H314 H335 Danger"},
		{"hydrogen-peroxide", 79, "H319 Warning"},
		{"hydrogen-peroxide", 80, "H318 Danger"},
		{"hydrogen-peroxide", 49, " "},
		{"silver-nitrate", 1.7, "H410 Warning"}, // 0.01 mol/L, M = 1000
		{"silver-nitrate", 0.2, "H411 "},
		{"silver-nitrate", 0.01, "H412 "},
		{"silver-nitrate", 0.002, " "},
		{"silver-nitrate", 50, "H290 H314 H410 Danger"},
		{"ethanol", 499, "H226 H319 Warning"},
		{"ethanol", 500, "H225 H319 Danger"},
		{"ethanol", 199, "H319 Warning"},
		{"boric-acid", 3, "H360FD Danger"},
		{"boric-acid", 2.9, " "},
		{"potassium-chromate", 1, "H340 H350i Danger"},
		{"potassium-iodide", 100, "H372 Danger"},
		{"potassium-iodide", 99, "H373 Warning"},
		{"potassium-iodide", 9, " "},
		{"sodium-chloride", 300, " "},
		{"copper-sulfate-pentahydrate", 24.97, "H319 H411 Warning"}, // 0.1 mol/L: M = 10 × 2.5 % ≥ 25 % of H411
	} {
		codes, signal := substance.Classify([]substance.Ingredient{ingredient(t, c.key, c.grams)})
		if got := strings.Join(codes, " ") + " " + signal; got != c.want {
			t.Errorf("%g g/L of %s: %q, want %q", c.grams, c.key, got, c.want)
		}
	}
}

// The same harm adds up over what is in the solution; another does not.
func TestClassifyAddsUp(t *testing.T) {
	classify := func(list ...substance.Ingredient) string {
		codes, signal := substance.Classify(list)
		return strings.Join(codes, " ") + " " + signal
	}
	// Two corrosives of 3 % without limits of their own: 6 % is over the 5 % of H314.
	if got := classify(ingredient(t, "silver-nitrate", 30)); strings.Contains(got, "H314") {
		t.Error(got)
	}
	if got := classify(ingredient(t, "silver-nitrate", 30), ingredient(t, "tin-chloride-dihydrate", 30)); !strings.Contains(got, "H314") {
		t.Error(got)
	}
	// Harmful by mouth, 500 mg/kg each: 1/ATE = 0.3/500, 1667 mg/kg, is under 2000.
	if got := classify(ingredient(t, "potassium-chlorate", 150)); strings.Contains(got, "H302") {
		t.Error(got)
	}
	if got := classify(ingredient(t, "potassium-chlorate", 150), ingredient(t, "sodium-chlorate", 150)); !strings.Contains(got, "H302") {
		t.Error(got)
	}
	if got := classify(); got != " " {
		t.Errorf("water: %q", got)
	}
}

// Weaker is never graver: no code comes that was not there before, or in place of a
// graver one.
func TestClassifyFallsWithTheStrength(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	library := substance.Library()
	milder := map[string]string{
		"H315": "H314",
		"H318": "H314",
		"H319": "H314 H318",
		"H373": "H372",
		"H371": "H370",
		"H226": "H225",
		"H272": "H271",
		"H411": "H410",
		"H412": "H410 H411",
		"H302": "H300 H301",
		"H301": "H300",
		"H312": "H310 H311",
		"H311": "H310",
		"H332": "H330 H331",
		"H331": "H330",
	}
	for range 3000 {
		var list []substance.Ingredient
		for range 1 + random.IntN(3) {
			s := library[random.IntN(len(library))]
			list = append(list, substance.Ingredient{Key: s.Key, Grams: 1000 * random.Float64(), Hazards: s.Hazards})
		}
		strong, _ := substance.Classify(list)
		weak, _ := substance.Classify(substance.Diluted(list, random.Float64()))
		for _, code := range weak {
			graver := slices.ContainsFunc(strings.Fields(milder[code]), func(g string) bool { return slices.Contains(strong, g) })
			if !slices.Contains(strong, code) && !graver {
				t.Fatalf("%v: %v when strong, %v when weak", list, strong, weak)
			}
		}
	}
}

// The substances of a mixture keep their strength apart from one another.
func TestDilutedLeavesTheFirstAlone(t *testing.T) {
	list := []substance.Ingredient{{Key: "sodium-chloride", Grams: 10}}
	if weak := substance.Diluted(list, 0.25); weak[0].Grams != 2.5 || list[0].Grams != 10 {
		t.Errorf("%v, %v", weak, list)
	}
}

// What people call things (common practice), and the entry that they mean.
func TestFindByWhatPeopleSay(t *testing.T) {
	none := func(string) int { return 0 }
	for query, want := range map[string]string{
		"KHP": "potassium-hydrogen-phthalate", "khp": "potassium-hydrogen-phthalate", "NaCl": "sodium-chloride", "table salt": "sodium-chloride",
		"sugar": "sucrose", "dextrose": "glucose", "vinegar": "acetic-acid-glacial", "bleach": "sodium-hypochlorite-solution",
		"baking soda": "sodium-hydrogencarbonate", "washing soda": "sodium-carbonate-decahydrate",
		"copper sulphate penta": "copper-sulfate-pentahydrate", "copper(II) sulfate pentahydrate": "copper-sulfate-pentahydrate",
		"sulphuric acid": "sulfuric-acid", "sulfuric acid": "sulfuric-acid", "hydrochloric": "hydrochloric-acid", "potasium permanganate": "potassium-permanganate",
		"sodium hydroxyde": "sodium-hydroxide", "acid citric": "citric-acid", "tris": "tris", "KMnO4": "potassium-permanganate", "EDTA": "disodium-edta-dihydrate",
		"mohr's salt": "ammonium-iron-sulfate-hexahydrate", "mohr’s salt": "ammonium-iron-sulfate-hexahydrate", "aluminum sulfate": "aluminium-sulfate-octadecahydrate",
		"phosphate dihydrogen potassium": "potassium-dihydrogen-phosphate", "silver nitrte": "silver-nitrate", "sodim chloride": "sodium-chloride", "epsom salt": "magnesium-sulfate-heptahydrate",
	} {
		got := substance.Find(substance.Library(), query, none)
		if len(got) == 0 || got[0].Key != want {
			var first string
			if len(got) > 0 {
				first = got[0].Key
			}
			t.Errorf("%q finds %q first, not %s", query, first, want)
		}
	}
	for _, query := range []string{"", "  ", "unobtainium", "xyzzy", "-"} {
		if got := substance.Find(substance.Library(), query, none); len(got) != 0 {
			t.Errorf("%q finds %s", query, got[0].Name)
		}
	}
}

// A household name comes with what to know; another name is told; a preferred entry goes
// before one that fits as well.
func TestFindSaysWhatItFound(t *testing.T) {
	none := func(string) int { return 0 }
	vinegar := substance.Find(substance.Library(), "vinegar", none)
	if !strings.HasPrefix(vinegar[0].Says, "Vinegar is a mixture") || vinegar[0].Called != "vinegar" {
		t.Errorf("%+v", vinegar[0])
	}
	if salt := substance.Find(substance.Library(), "table salt", none); salt[0].Called != "table salt" || salt[0].Says != "" {
		t.Errorf("%+v", salt[0])
	}
	if plain := substance.Find(substance.Library(), "sodium chloride", none); plain[0].Called != "" {
		t.Errorf("%+v", plain[0])
	}
	made := func(key string) int {
		if key == "copper-chloride-dihydrate" {
			return 3
		}
		return 0
	}
	if got := substance.Find(substance.Library(), "copper", made); got[0].Key != "copper-chloride-dihydrate" {
		t.Errorf("made three times, and %s comes first", got[0].Key)
	}
	exact := substance.Find(substance.Library(), "cobalt nitrate hexahydrate", none)
	if len(exact) != 1 || exact[0].Key != "cobalt-nitrate-hexahydrate" {
		t.Errorf("%d found", len(exact))
	}
}

// The density of every solid lies where its formula lets it: Girolami's volumes of atoms
// (J. Chem. Educ. 1994, 71, 962, from memory) give that of an organic liquid, and a
// crystal of ions is denser than that, by a factor under four; metals are let out. A slip
// of the decimal point does not pass.
func TestDensitiesAreLikely(t *testing.T) {
	volumes := map[string]float64{"H": 1}
	for size, row := range map[float64]string{
		2: "Li Be B C N O F", 4: "Na Mg Al Si P S Cl", 5: "K Ca Sc Ti V Cr Mn Fe Co Ni Cu Zn Ga Ge As Se Br",
		7.5: "Rb Sr Y Zr Nb Mo Tc Ru Rh Pd Ag Cd In Sn Sb Te I", 9: "Cs Ba La Ce W Pt Au Hg Tl Pb Bi",
	} {
		for symbol := range strings.FieldsSeq(row) {
			volumes[symbol] = size
		}
	}
	for _, s := range substance.Library() {
		f, err := formula.Parse(s.Formula)
		if err != nil {
			t.Fatal(err)
		}
		v, kinds := 0.0, 0
		for symbol, size := range volumes {
			if n := f.Atoms(symbol); n > 0 {
				v += size * n
				kinds++
			}
		}
		guess := f.MolarMass().Value / (5 * v)
		if ratio := s.Density / guess; s.Density != 0 && kinds > 1 && !s.Liquid && (ratio < 0.65 || ratio > 4) {
			t.Errorf("%s: %g g/mL, and %.2g would be likely", s.Name, s.Density, guess)
		}
		if s.Solubility < 0 || s.Solubility > 1000 {
			t.Errorf("%s: %g g in 100 g of water", s.Name, s.Solubility)
		}
	}
}
