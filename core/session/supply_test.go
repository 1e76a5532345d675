package session_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"vialbench/core/glassware"
	"vialbench/core/session"
	"vialbench/core/substance"
)

func supplies(t *testing.T, change func(s *session.Session, store *session.Store)) []session.Supply {
	t.Helper()
	s, store := pondWater(), cupboard()
	change(&s, &store)
	needs, err := session.Needs(s, nil)
	if err != nil {
		t.Fatal(err)
	}
	return store.Supplies(s, needs, nil)
}

func naoh(id string, strength, left float64) session.Bottle {
	return session.Bottle{ID: id, Number: int64(len(id)), Name: "Sodium hydroxide", Strength: strength, Unit: "mol/L", Left: left, Known: true}
}

func TestWhichBottleServes(t *testing.T) {
	for _, c := range []struct {
		name   string
		bottle session.Bottle
		from   string
		says   string
	}{
		{"as it is", naoh("n", 0.1003, 2000), "bottle n", "Bottle 1: serves as it is; 2 L left."},
		{"at the edge of the tolerance", naoh("n", 0.105, 2000), "bottle n", "serves as it is"},
		{"above it", naoh("n", 0.1051, 2000), "dilute n", "Dilute bottle 1, 0.1051 mol/L: 951 mL to 1 L; 2 L left."},
		{"too weak", naoh("n", 0.0949, 2000), "make", "Make it, 1 L and 100 mL, pour it together and standardise it."},
		{"stronger", naoh("n", 1, 500), "dilute n", "Dilute bottle 1, 1 mol/L: 100 mL to 1 L; 500 mL left."},
		{"stronger, of a strength that nobody found", func() session.Bottle { b := naoh("n", 1, 500); b.Known = false; return b }(), "dilute n", "110 mL to 1 L and 100 mL; 500 mL left. Its strength is not known well enough: pour it together and standardise it."},
		{"stronger, but too little", naoh("n", 1, 99), "make", "Make it"},
		{"near enough", naoh("n", 0.1, 995), "bottle n", "serves as it is; 995 mL left."},
		{"too little", naoh("n", 0.1, 900), "make", "Make it, 250 mL, and standardise it. Bottle 1 serves for the rest, 900 mL."},
		{"a rest", naoh("n", 0.1, 100), "make", "Make it, 1 L, and standardise it. Bottle 1 serves for the rest, 100 mL."},
		{"dregs", naoh("n", 0.1, 2), "make", "Make it, 1 L and 100 mL, pour it together and standardise it."},
		{"promised to others", func() session.Bottle { b := naoh("n", 0.1, 1500); b.Promised = 600; return b }(), "make", "Bottle 1 serves for the rest, 900 mL."},
		{"promised in part", func() session.Bottle { b := naoh("n", 0.1, 1500); b.Promised = 400; return b }(), "bottle n", "1.5 L left, of which 400 mL are promised"},
		{"expired on the day", func() session.Bottle { b := naoh("n", 0.1, 1500); b.Keeps = "2026-12-08"; return b }(), "make", "Make it"},
		{"good on the day", func() session.Bottle { b := naoh("n", 0.1, 1500); b.Keeps = "2026-12-09"; return b }(), "bottle n", "serves"},
		{"to be standardised again", func() session.Bottle { b := naoh("n", 0.1, 1500); b.Until = "2026-12-08"; return b }(), "bottle n", "serves once it is standardised"},
		{"another basis", func() session.Bottle { b := naoh("n", 4, 1500); b.Unit = "g/L"; return b }(), "make", "Make it"},
	} {
		got := supplies(t, func(_ *session.Session, store *session.Store) { store.Bottles = []session.Bottle{c.bottle} })[0]
		o := got.Options[got.Chosen]
		if o.From != c.from || !strings.Contains(o.Sentence, c.says) || got.Short != "" || !o.Serves {
			t.Errorf("%s: %s, “%s”", c.name, o.From, o.Sentence)
		}
	}
}

func TestWhyNothingServes(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(s *session.Session, store *session.Store)
		says   string
	}{
		{"no such thing", func(s *session.Session, _ *session.Store) { s.Items[0].Name = "unobtainium" }, "add the substance in the lab setup"},
		{"no such bottle", func(s *session.Session, _ *session.Store) {
			s.Items[0].Name, s.Items[0].Concentration = "Bromothymol blue", ""
		}, "no bottle on the shelf is called that"},
		{"more than flasks hold", func(s *session.Session, _ *session.Store) {
			s.Groups, s.Items[0].Times, s.Items[0].Each = 60, 20, "100 mL"
		}, "It cannot be made at once"},
	} {
		got := supplies(t, c.change)[0]
		if got.Chosen != -1 || !strings.Contains(got.Short, c.says) {
			t.Errorf("%s: %+v", c.name, got)
		}
	}
}

// Two items ask for one bottle: the second finds what the first leaves.
func TestOneBottleIsNotPromisedTwice(t *testing.T) {
	got := supplies(t, func(s *session.Session, store *session.Store) {
		s.Items = []session.Item{s.Items[0], s.Items[0]}
		s.Items[1].ID = "b"
		store.Bottles = []session.Bottle{naoh("n", 0.1, 1500)}
	})
	if got[0].Options[got[0].Chosen].From != "bottle n" || got[1].Options[got[1].Chosen].From != "make" {
		t.Errorf("%+v", got)
	}
}

// A way that somebody chose is kept, though another comes first; a buffer is known by its pH; water is there.
func TestChosenWays(t *testing.T) {
	got := supplies(t, func(s *session.Session, store *session.Store) {
		s.Items[0].From = "make"
		s.Items[1] = session.Item{ID: "b", Name: "phosphate buffer", PH: "7.00", Concentration: "0.1 mol/L", Each: "10 mL", Times: 1, Glass: session.Probe}
		s.Items = append(s.Items, session.Item{ID: "c", Name: "Deionised water", Each: "100 mL", Times: 1})
		store.Bottles = []session.Bottle{
			naoh("n", 0.1, 2000),
			{ID: "p", Name: "Phosphate buffer", Number: 7, Strength: 0.1, Unit: "mol/L", PH: 7.06, Left: 2000},
			{ID: "q", Name: "Phosphate buffer", Number: 8, Strength: 0.1, Unit: "mol/L", PH: 7.04, Left: 2000},
		}
	})
	if got[0].Options[got[0].Chosen].From != "make" || got[1].Options[got[1].Chosen].From != "bottle q" || len(got[1].Options) != 2 {
		t.Errorf("%+v", got[:2])
	}
	if o := got[2].Options[got[2].Chosen]; !strings.HasPrefix(o.Sentence, "From the tap") {
		t.Errorf("%+v", o)
	}
}

// What a bottle is diluted to stands in its own unit, as its question asks for it.
func TestDilutedInTheUnitOfTheBottle(t *testing.T) {
	got := supplies(t, func(s *session.Session, store *session.Store) {
		s.Items[0].Concentration = "25 mmol/L"
		store.Bottles = []session.Bottle{naoh("n", 0.998, 500)}
	})[0]
	if o := got.Options[got.Chosen]; o.From != "dilute n" || o.Wanted != "0.025" || fmt.Sprintf("%.4f", o.Takes[0].ML) != "25.0501" {
		t.Errorf("%+v", o)
	}
	got = supplies(t, func(_ *session.Session, store *session.Store) { store.Bottles = []session.Bottle{naoh("n", 0.1, 5000)} })[0]
	if o := got.Options[got.Chosen]; o.Wanted != "" {
		t.Errorf("a bottle that serves is diluted to %s", o.Wanted)
	}
}

// A pipette of 25 mL, filled twice, makes a tenth in 500 mL, and no tenth in 1 L: two flasks are filled. What no glass gives is not offered.
func TestDilutedWithTheGlassThatIsThere(t *testing.T) {
	glass := func(factor float64) session.Supply {
		return supplies(t, func(_ *session.Session, store *session.Store) {
			store.Bottles = []session.Bottle{naoh("n", 0.1*factor, 5000)}
			store.Glass = []glassware.Item{{Kind: glassware.OneMarkPipette, Volume: 25, Class: glassware.ClassA, Count: 4}}
			for _, f := range store.Flasks {
				store.Glass = append(store.Glass, glassware.Item{Kind: glassware.VolumetricFlask, Volume: f.Volume, Class: f.Class, Count: 2})
			}
		})[0]
	}
	got := glass(10)
	if o := got.Options[got.Chosen]; o.From != "dilute n" || fmt.Sprint(o.Flasks) != "[500 500]" || o.Takes[0].ML != 100 {
		t.Errorf("%+v", o)
	}
	got = glass(3)
	if o := got.Options[got.Chosen]; o.From != "make" {
		t.Errorf("%+v", o)
	}
	if o := got.Options[1]; o.Serves || !strings.Contains(o.Sentence, "no pipettes and flasks here give 1 in 3") {
		t.Errorf("%+v", o)
	}
}

// Of two bottles that are not enough alone both are taken; what is missing beside them is made; one that is to be
// standardised gives what the titration leaves of it.
func TestSeveralBottlesTogether(t *testing.T) {
	numbered := func(id string, number int64, left float64, known bool) session.Bottle {
		b := naoh(id, 0.1, left)
		b.Number, b.Known = number, known
		return b
	}
	for _, c := range []struct {
		name    string
		bottles []session.Bottle
		from    string
		says    string
		takes   string
	}{
		{
			"the fullest first",
			[]session.Bottle{numbered("p", 12, 400, true), numbered("q", 13, 500, true), numbered("r", 14, 300, true)},
			"bottles", "Bottles 13, 12 and 14 together: 500 mL, 400 mL and 124 mL.", "q 500 p 400 r 124",
		},
		{
			"within what is spilled",
			[]session.Bottle{numbered("p", 12, 500, true), numbered("q", 13, 500, true)},
			"bottles", "Bottles 12 and 13 together: 500 mL and 500 mL.", "p 500 q 500",
		},
		{
			"known ones first",
			[]session.Bottle{numbered("p", 12, 700, false), numbered("q", 13, 600, true)},
			"bottles", "Bottles 13 and 12 together: 600 mL and 524 mL. Standardise bottle 12 first.", "q 600 p 524",
		},
		{
			"the rest is made",
			[]session.Bottle{numbered("p", 12, 500, true), numbered("q", 13, 300, false)},
			"make", "Make it, 500 mL, pour it together with bottle 13 and standardise it. Bottles 12 and 13 serve for the rest, 500 mL and 300 mL.", "p 500 q 300",
		},
		{
			"poured together",
			[]session.Bottle{numbered("p", 12, 700, false), numbered("q", 13, 600, false)},
			"bottles", "Bottles 12 and 13 together: 700 mL and 424 mL. Pour bottles 12 and 13 together and standardise them first.", "p 700 q 424",
		},
	} {
		got := supplies(t, func(_ *session.Session, store *session.Store) { store.Bottles = c.bottles })[0]
		o := got.Options[got.Chosen]
		var takes []string
		for _, take := range o.Takes {
			takes = append(takes, fmt.Sprintf("%s %.0f", take.Bottle, take.ML))
		}
		if o.From != c.from || o.Sentence != c.says || strings.Join(takes, " ") != c.takes || !o.Serves {
			t.Errorf("%s: %s, “%s”, %v", c.name, o.From, o.Sentence, takes)
		}
	}
}

// What was made for a session serves it: in whatever flasks, and after its standardising has taken its part.
func TestWhatIsMadeServes(t *testing.T) {
	for groups := 1; groups <= 40; groups++ {
		for _, standardised := range []bool{false, true} {
			ask := func(bottles []session.Bottle) session.Option {
				got := supplies(t, func(s *session.Session, store *session.Store) {
					s.Groups, s.Items[0].Standardised, store.Bottles = groups, standardised, bottles
				})[0]
				if got.Chosen < 0 {
					t.Fatalf("%d groups: %s", groups, got.Short)
				}
				return got.Options[got.Chosen]
			}
			var made []session.Bottle
			for i, volume := range ask(nil).Flasks {
				b := naoh(fmt.Sprint(i), 0.1, volume)
				b.Known = !standardised
				made = append(made, b)
			}
			o := ask(made)
			if o.How != "bottle" || o.Standardise != standardised {
				t.Errorf("%d groups, made in %d: %s", groups, len(made), o.Sentence)
			}
			if standardised { // poured together, and what the titration leaves
				all := naoh("all", 0.1, -100)
				for _, b := range made {
					all.Left += b.Left
				}
				made = []session.Bottle{all}
			}
			if o = ask(made); o.How != "bottle" || o.Standardise {
				t.Errorf("%d groups, made in %d and standardised: %s", groups, len(made), o.Sentence)
			}
		}
	}
}

// What is made is weighed out of the store: by hand, 40.00 g/mol and 97 % of sodium hydroxide, 204.22 g/mol of potassium
// hydrogen phthalate, 36.46 g/mol, 37 % and 1.184 g/mL of hydrochloric acid.
func TestTheStoreIsDrawnFrom(t *testing.T) {
	lye := substance.Library()[slices.IndexFunc(substance.Library(), func(s substance.Substance) bool { return s.Key == "sodium-hydroxide" })]
	for _, c := range []struct {
		name, strength string
		want           session.Draw
	}{
		{"Potassium hydrogen phthalate", "0.1 mol/L", session.Draw{Key: "potassium-hydrogen-phthalate", Amount: 204.22 * 0.1, Unit: "g"}},
		{"Potassium hydrogen phthalate", "20 g/L", session.Draw{Key: "potassium-hydrogen-phthalate", Amount: 20, Unit: "g"}},
		{"Potassium hydrogen phthalate", "2 % w/w", session.Draw{Key: "potassium-hydrogen-phthalate", Amount: 20, Unit: "g"}},
		{"Sodium hydroxide", "0.1 mol/L", session.Draw{Key: "sodium-hydroxide", Amount: 39.997 * 0.1 / lye.Assay, Unit: "g"}},
		{"Hydrochloric acid, concentrated", "0.1 mol/L", session.Draw{Key: "hydrochloric-acid", Amount: 36.458 * 0.1 / 0.37 / 1.184, Unit: "mL"}},
	} {
		ask := func(left float64) session.Supply {
			return supplies(t, func(s *session.Session, store *session.Store) {
				s.Items = []session.Item{{ID: "a", Name: c.name, Concentration: c.strength, Each: "30 mL", Times: 1}} // 819 mL of 13 places, two trials
				store.Stock = []session.Stock{{Key: c.want.Key, Unit: c.want.Unit, Left: left}}
			})[0]
		}
		got := ask(1000)
		d := got.Options[got.Chosen].Draws
		if fmt.Sprint(got.Options[got.Chosen].Flasks) != "[1000]" || d.Key != c.want.Key || d.Unit != c.want.Unit ||
			math.Abs(d.Amount/c.want.Amount-1) > 2e-3 {
			t.Errorf("%s, %s: %+v, want %+v", c.name, c.strength, d, c.want)
		}
		if got = ask(d.Amount); got.Chosen < 0 {
			t.Errorf("%s: just enough does not serve: %s", c.name, got.Short)
		}
		if got = ask(d.Amount - 0.1); got.Chosen >= 0 || !strings.Contains(got.Short, "are in the store.") {
			t.Errorf("%s: less than it takes serves: %+v", c.name, got)
		}
	}
}

// What one item takes out of the store is not there for the next.
func TestTheStoreIsDrawnFromOnce(t *testing.T) {
	got := supplies(t, func(s *session.Session, store *session.Store) {
		s.Items = []session.Item{s.Items[1], s.Items[1]}
		s.Items[1].ID = "c"
		store.Stock = []session.Stock{{Key: "potassium-hydrogen-phthalate", Unit: "g", Left: 40}}
	})
	if got[0].Chosen < 0 || got[1].Chosen >= 0 ||
		!strings.Contains(got[1].Short, "Making it takes 22.5 g of potassium hydrogen phthalate, and 17.5 g are in the store.") {
		t.Errorf("%+v", got)
	}
}
