package substance

import (
	"cmp"
	_ "embed"
	"regexp"
	"slices"
	"strings"
)

//go:embed names.json
var namesJSON []byte

// names are what people call the substances of the library.
var names struct {
	// Synonyms by key: older and trade names, abbreviations.
	Synonyms map[string][]string `json:"synonyms"`
	// Household names of mixtures lead to an entry, with a sentence.
	Household []struct {
		Name string `json:"name"`
		Key  string `json:"key"`
		Says string `json:"says"`
	} `json:"household"`
}

// Match is a substance that was looked for.
type Match struct {
	Substance
	// Called is the other name that was found, Says what to know before taking it.
	Called, Says string
}

// Grades of a match, the best first. A misspelt name has so many slips besides.
const (
	wholeName  = 0
	beginnings = 1
	misspelt   = 2
	noMatch    = 1000
)

// Find looks for substances by what people call them: words in any order, by their
// beginnings, British or American, with or without “(II)”, with a slip of the keys, or a
// formula. Of equally good matches those that are preferred come first (a larger number
// is better), then short names, then solids, then what is strong.
func Find(list []Substance, query string, preferred func(key string) int) []Match {
	wanted := words(query)
	if len(wanted) == 0 {
		return nil
	}
	type found struct {
		Match
		grade int
	}
	var all []found
	for _, s := range list {
		best := found{Match{Substance: s}, noMatch}
		for i, name := range append([]string{s.Name, s.Dissolved(), s.Formula}, s.Synonyms...) {
			if g := grade(wanted, name); g < best.grade {
				if best.grade = g; i > 2 {
					best.Called = name
				} else {
					best.Called = ""
				}
			}
		}
		if best.grade > beginnings { // words of several names together: “salt of copper”
			if g := grade(wanted, strings.Join(append([]string{s.Name}, s.Synonyms...), " ")); g < best.grade {
				best.grade = g
			}
		}
		for _, h := range names.Household {
			if g := grade(wanted, h.Name); h.Key == s.Key && g < noMatch && g <= best.grade {
				best.grade, best.Called, best.Says = g, h.Name, h.Says
			}
		}
		if best.grade < noMatch {
			all = append(all, best)
		}
	}
	if slices.ContainsFunc(all, func(f found) bool { return f.grade < misspelt }) {
		all = slices.DeleteFunc(all, func(f found) bool { return f.grade >= misspelt })
	}
	slices.SortStableFunc(all, func(a, b found) int {
		return cmp.Or(
			cmp.Compare(a.grade, b.grade),
			cmp.Compare(preferred(b.Key), preferred(a.Key)),
			cmp.Compare(len(a.Dissolved()), len(b.Dissolved())),
			compareLiquid(a.Liquid, b.Liquid),
			cmp.Compare(b.MassFraction, a.MassFraction),
			cmp.Compare(a.Name, b.Name),
		)
	})
	matches := make([]Match, len(all))
	for i, f := range all {
		matches[i] = f.Match
	}
	return matches
}

// compareLiquid puts solids before liquids.
func compareLiquid(a, b bool) int {
	switch {
	case a == b:
		return 0
	case b:
		return -1
	}
	return 1
}

// grade says how well a name fits the words looked for.
func grade(wanted []string, name string) int {
	have := words(name)
	if strings.Join(wanted, "") == strings.Join(have, "") {
		return wholeName
	}
	total := 0
	for _, w := range wanted {
		fewest := noMatch
		for _, h := range have {
			fewest = min(fewest, slips(w, h))
		}
		total += fewest
	}
	switch {
	case total == 0:
		return beginnings
	case total < noMatch:
		return misspelt + total
	}
	return noMatch
}

// oxidation is a state of oxidation behind a name.
var oxidation = regexp.MustCompile(`\((i|ii|iii|iv|v|vi|vii)\)`)

// spellings brings one spelling about.
var spellings = strings.NewReplacer(
	"sulph",
	"sulf",
	"aluminum",
	"aluminium",
	"caesium",
	"cesium",
	"hydrogen carbonate",
	"hydrogencarbonate",
	"·",
	"",
	"’",
	"",
	"'",
	"",
	"…",
	"",
	"...",
	"",
	"₂",
	"2",
	"₃",
	"3",
	"₄",
	"4",
)

// words parts a name into what is compared.
func words(name string) []string {
	name = spellings.Replace(oxidation.ReplaceAllString(strings.ToLower(name), " "))
	return strings.FieldsFunc(name, func(r rune) bool { return strings.ContainsRune(" ,-;/()[]“”", r) })
}

// slips counts how many slips of the keys make a word of another, or of its beginning;
// noMatch when more than one in words of four letters and more, or two from eight on.
func slips(typed, word string) int {
	if strings.HasPrefix(word, typed) {
		return 0
	}
	a, b := []rune(typed), []rune(word)
	most := 0
	switch {
	case len(a) >= 8:
		most = 2
	case len(a) >= 4:
		most = 1
	}
	fewest := noMatch
	for n := max(0, len(a)-most); most > 0 && n <= min(len(b), len(a)+most); n++ {
		if d := distance(a, b[:n]); d <= most {
			fewest = min(fewest, d)
		}
	}
	return fewest
}

// distance counts letters left out, put in, mistaken and changed about (optimal string
// alignment).
func distance(a, b []rune) int {
	rows := make([][]int, len(a)+1)
	for i := range rows {
		rows[i] = make([]int, len(b)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(a); i++ {
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			rows[i][j] = min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				rows[i][j] = min(rows[i][j], rows[i-2][j-2]+1)
			}
		}
	}
	return rows[len(a)][len(b)]
}
