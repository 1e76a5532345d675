package session

import (
	"fmt"
	"strconv"
	"strings"

	"vialbench/core/quantity"
	"vialbench/core/titration"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Line is a part of what a group needs of a liquid, and why.
type Line struct {
	ID   string  `json:"id"`
	Why  string  `json:"why"`
	ML   float64 `json:"mL"`
	Rule string  `json:"rule,omitempty"`
	// Set reports whether the session has its own figure for it.
	Set bool `json:"set,omitempty"`
}

// Need is what all places need of one item.
type Need struct {
	Item  string `json:"item"`
	Title string `json:"title"`
	// Lines are of one group, ML is their sum, Places how many there are, and Total what all of them need.
	Lines  []Line  `json:"lines"`
	ML     float64 `json:"mL"`
	Places int     `json:"places"`
	Total  float64 `json:"total"`
	// Sentence says it in words; Working shows it as any figure does.
	Sentence string         `json:"sentence"`
	Working  []working.Line `json:"working"`
}

// The allowances that a session can set for itself.
const (
	spareLine   = "spare"
	rinsingLine = "rinsing"
	staysLine   = "stays"
	otherLine   = "other"
)

func isAllowance(id string) bool {
	return id == spareLine || id == rinsingLine || id == staysLine || id == otherLine
}

// Needs works out what is needed of each item. Errors are those of [Session.Check].
func Needs(s Session, rules verdict.Thresholds) ([]Need, error) {
	if err := s.Check(); err != nil {
		return nil, err
	}
	list := make([]Need, len(s.Items))
	for i, item := range s.Items {
		l, _ := item.read()
		list[i] = s.need(l, rules)
	}
	return list, nil
}

func (s Session) need(l liquid, rules verdict.Thresholds) Need {
	n := Need{Item: l.ID, Title: l.title(), Lines: l.lines(rules), Places: s.Groups + int(rules.Of(RulePlaces))}
	terms := make([]string, len(n.Lines))
	for i, line := range n.Lines {
		n.ML += line.ML
		terms[i] = working.Digits(line.ML)
	}
	spilled := rules.Of(RuleSpilled) / 100
	n.Total = quantity.Significant(float64(n.Places)*n.ML*(1+spilled), 6)
	n.Sentence = fmt.Sprintf("%s for each of %s, %s in all", Volume(n.ML), count(n.Places, "place"), Volume(n.Total))
	n.Working = []working.Line{
		{
			Title: "For a group", Symbol: `V_\mathrm{group}`, Formula: `\sum V_i`,
			Substituted: strings.Join(terms, " + ") + working.Unit("mL"), Result: Volume(n.ML), From: reasons(n.Lines),
		},
		{
			Title: "For all places", Symbol: "V", Formula: `p\,V_\mathrm{group}\,(1 + b)`,
			Substituted: fmt.Sprintf(`%d \cdot %s \cdot (1 + %s)`, n.Places, working.Digits(n.ML)+working.Unit("mL"), working.Digits(spilled)),
			Result:      Volume(n.Total),
			From: []string{
				fmt.Sprintf("places: %s and %d besides (rule S-7)", count(s.Groups, "group"), n.Places-s.Groups),
				fmt.Sprintf("spilled: %g %% (rule S-6)", 100*spilled),
			},
		},
	}
	return n
}

// lines are what one group needs.
func (l liquid) lines(rules verdict.Thresholds) []Line {
	list := []Line{{ID: "trials", Why: fmt.Sprintf("%d × %s", l.Times, Volume(l.each)), ML: float64(l.Times) * l.each}}
	add := func(id, why string, mL float64, rule verdict.Rule) {
		own, set := l.own[id]
		if set {
			mL = own
		}
		if mL > 0 || set {
			list = append(list, Line{ID: id, Why: why, ML: mL, Rule: rule.ID, Set: set})
		}
	}
	spare := rules.Of(RuleSpare)
	add(spareLine, count(int(spare), "trial")+" to spare", spare*l.each, RuleSpare)
	pieces, used := float64(l.Pieces), list[0].ML
	if len(list) > 1 {
		used += list[1].ML
	}
	switch l.Glass {
	case Burette:
		times, rinse := rules.Of(titration.RuleRinse), rules.Of(RuleRinse)
		add(rinsingLine, fmt.Sprintf("rinsing %s, %g × %s", count(l.Pieces, "burette"), times, Volume(rinse)), pieces*times*rinse, RuleRinse)
		stays := max(pieces*rules.Of(RuleStays), pieces*l.size-used)
		add(staysLine, "what stays of the filling", stays, RuleStays)
	case Pipette:
		rinse := l.size / 5
		add(rinsingLine, fmt.Sprintf("rinsing %s, 2 × %s", count(l.Pieces, "pipette"), Volume(rinse)), pieces*2*rinse, RuleRinse)
		add(staysLine, "what stays in the beaker", rules.Of(RuleBeaker), RuleBeaker)
	case Cuvette:
		add(rinsingLine, fmt.Sprintf("rinsing %s, 2 × %s", count(l.Pieces, "cuvette"), Volume(l.size)), pieces*2*l.size, RuleRinse)
	case Probe:
		add(staysLine, "so that the bulb is covered", max(0, rules.Of(RuleCovered)-l.each), RuleCovered)
	case Poured:
	}
	add(otherLine, "besides", 0, verdict.Rule{})
	return list
}

// title names an item with its strength.
func (l liquid) title() string {
	words := strings.TrimSpace(l.Name)
	if l.pH > 0 {
		words += ", pH " + strings.TrimSpace(l.PH)
	}
	if l.strength != nil {
		words += ", " + l.strength.String()
	}
	return words
}

// Volume writes a volume in mL as people say it: from a litre on in litres.
func Volume(volume float64) string {
	if volume >= 1000 {
		return quantity.Digits(quantity.Significant(volume/1000, 3), -1) + " L"
	}
	return quantity.Digits(quantity.Significant(volume, 3), -1) + " mL"
}

// count writes how many there are of something.
func count(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return strconv.Itoa(n) + " " + of + "s"
}

func reasons(lines []Line) []string {
	list := make([]string, len(lines))
	for i, line := range lines {
		list[i] = line.Why + ": " + Volume(line.ML)
		if line.Rule != "" {
			list[i] += " (rule " + line.Rule + ")"
		}
	}
	return list
}
