package indicator

import (
	"fmt"
	"regexp"
	"testing"
)

// Intervals and colours of both ends as handbooks list them (CRC Handbook, from memory).
func TestHandbookIntervals(t *testing.T) {
	for key, want := range map[string]struct {
		from, to   float64
		acid, base string
	}{
		"methyl-orange":     {3.1, 4.4, "red", "yellow"},
		"bromocresol-green": {3.8, 5.4, "yellow", "blue"},
		"methyl-red":        {4.2, 6.3, "red", "yellow"},
		"bromothymol-blue":  {6.0, 7.6, "yellow", "blue"},
		"thymol-blue":       {8.0, 9.6, "yellow", "blue"},
		"phenolphthalein":   {8.2, 10.0, "colourless", "deep pink"},
		"thymolphthalein":   {9.3, 10.5, "colourless", "deep blue"},
		"alizarin-yellow":   {10.1, 12.0, "yellow", "red"},
	} {
		i, ok := Find(key)
		if !ok || i.From != want.from || i.To != want.to || i.Words[0] != want.acid || i.Words[Shades-1] != want.base {
			t.Errorf("%s: %+v", key, i)
		}
	}
	if _, ok := Find("litmus paper"); ok {
		t.Error("found what is not there")
	}
}

func TestLibraryIsWhole(t *testing.T) {
	colour := regexp.MustCompile(`^#[0-9a-f]{6}$`)
	seen := map[string]bool{}
	before := 0.0
	for _, i := range Library() {
		if seen[i.Key] || i.Name == "" || !(i.From < i.PKa && i.PKa < i.To) || i.To-i.From < 0.8 || i.To-i.From > 2.2 {
			t.Errorf("%+v", i)
		}
		if i.From < before {
			t.Errorf("%s is out of order", i.Key)
		}
		seen[i.Key], before = true, i.From
		words := map[string]bool{}
		for k := range Shades {
			if !colour.MatchString(i.Colours[k]) || i.Words[k] == "" || words[i.Words[k]] {
				t.Errorf("%s: %q %q", i.Key, i.Words[k], i.Colours[k])
			}
			words[i.Words[k]] = true
		}
	}
	Library()[0].Key = "changed"
	if library[0].Key == "changed" {
		t.Error("the library can be changed from outside")
	}
}

func TestShades(t *testing.T) {
	i, _ := Find("bromothymol-blue") // 6.0 to 7.6
	for pH, want := range map[float64]string{
		4: "yellow", 5.99: "yellow", 6.0: "yellow-green", 6.5: "yellow-green", 6.6: "green", 6.8: "green", 7.1: "blue-green", 7.6: "blue-green",
		7.61: "blue", 12: "blue",
	} {
		if got := i.Colour(pH); got != want {
			t.Errorf("pH %g: %s, want %s", pH, got, want)
		}
	}
}

func TestAt(t *testing.T) {
	for pH, want := range map[float64]string{4.7: "bromocresol-green", 7: "bromothymol-blue", 8.8: "thymol-blue", 9.5: "phenolphthalein", 13: ""} {
		list := At(pH)
		first := ""
		if len(list) > 0 {
			first = list[0].Key
		}
		if first != want {
			t.Errorf("pH %g: %s, want %s", pH, first, want)
		}
	}
}

func ExampleIndicator_Colour() {
	i, _ := Find("phenolphthalein")
	fmt.Println(i.Colour(7), "–", i.Colour(8.3), "–", i.Colour(11))
	// Output: colourless – palest pink – deep pink
}
