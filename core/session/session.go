package session

import (
	"strconv"
	"strings"
	"time"
	_ "time/tzdata" // a machine may know no time zones

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Session is what is planned: a class at an hour, and what each group needs.
type Session struct {
	Title  string    `json:"title"`
	Place  string    `json:"place,omitempty"`
	Starts time.Time `json:"starts"`
	Ends   time.Time `json:"ends"`
	// Zone is the time zone of the hours of the people, as the IANA names it.
	Zone   string `json:"zone"`
	Groups int    `json:"groups"`
	Items  []Item `json:"items"`
	// Meters is how many calibrated pH meters are used.
	Meters int      `json:"meters"`
	People []Person `json:"people"`
	// Own are tasks besides those that follow from the items.
	Own []OwnTask `json:"own"`
}

// Item is one liquid. Quantities are as they are typed.
type Item struct {
	ID string `json:"id"`
	// Name is what is in it: “sodium hydroxide”, “phosphate buffer”.
	Name string `json:"name"`
	// Concentration is its strength, like “0.1 mol/L”; empty of what has none.
	Concentration string `json:"concentration,omitempty"`
	// PH is that of a buffer; empty of any other.
	PH string `json:"pH,omitempty"`
	// Each is what one trial, reading or portion takes, and Times how many a group makes.
	Each  string `json:"each"`
	Times int    `json:"times"`
	// Glass is what it is used from: one of the kinds of [Glass]; Size is how much one holds, and Pieces how
	// many a group has.
	Glass  Glass  `json:"glass,omitempty"`
	Size   string `json:"size,omitempty"`
	Pieces int    `json:"pieces,omitempty"`
	// Standardised asks for a strength that is known, not only planned.
	Standardised bool `json:"standardised,omitempty"`
	// Allowances by the ID of their line in mL, where the session has its own; “other” is one more.
	Allowances map[string]string `json:"allowances,omitempty"`
	// From says how it is supplied: “” as proposed, “make”, “bottle ID” or “dilute ID”.
	From string `json:"from,omitempty"`
}

// Glass is a kind of glass that a liquid is used from.
type Glass string

// The kinds of glass.
const (
	Poured  Glass = ""
	Burette Glass = "burette"
	Pipette Glass = "pipette"
	Cuvette Glass = "cuvette"
	Probe   Glass = "probe" // a beaker in which a probe stands
)

// Person helps to prepare, from an hour to an hour (“08:00”) of every working day.
type Person struct {
	Name string `json:"name"`
	From string `json:"from"`
	To   string `json:"to"`
}

// OwnTask is something else that is to be done before the session.
type OwnTask struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Hands int    `json:"hands"` // minutes
	Wait  int    `json:"wait"`
}

// Bounds of a session.
const (
	mostGroups = 60
	mostItems  = 40
	mostPeople = 12
	mostOwn    = 20
	mostTimes  = 50
	mostPieces = 6
	mostVolume = 10_000 // mL, of one trial
)

// strengths are the dimensions in which an item may be stated.
var strengths = []quantity.Dimension{quantity.AmountConcentration, quantity.MassConcentration, quantity.MassFraction}

// Check reports what cannot be planned. An error is a verdict.Problems with JSON pointers into the session.
func (s Session) Check() error {
	var p verdict.Problems
	if strings.TrimSpace(s.Title) == "" || len(s.Title) > 120 {
		p.Add("/title", "a session needs a title of up to 120 characters, like “Titration of vinegar”")
	}
	if len(s.Place) > 80 {
		p.Add("/place", "a place has up to 80 characters")
	}
	if s.Groups < 1 || s.Groups > mostGroups {
		p.Add("/groups", "a session is planned for 1 to %d groups", mostGroups)
	}
	if !s.Ends.After(s.Starts) || s.Ends.Sub(s.Starts) > 24*time.Hour {
		p.Add("/ends", "a session ends after it starts, within a day")
	}
	if _, err := s.zone(); err != nil {
		p.Add("/zone", "“%s” is no time zone: write it like “Europe/London”", s.Zone)
	}
	if len(s.Items) > mostItems {
		p.Add("/items", "%d items are too many: at most %d", len(s.Items), mostItems)
		return p
	}
	if s.Meters < 0 || s.Meters > mostGroups {
		p.Add("/meters", "from none to %d pH meters can be planned", mostGroups)
	}
	for i, item := range s.Items {
		if _, err := item.read(); err != nil {
			p = append(p, under("/items/"+strconv.Itoa(i), err)...)
		}
	}
	s.checkPeople(&p)
	return p.OrNil()
}

func (s Session) checkPeople(p *verdict.Problems) {
	if len(s.People) > mostPeople {
		p.Add("/people", "%d people are too many: at most %d", len(s.People), mostPeople)
	}
	names := map[string]bool{}
	for i, person := range s.People {
		field := "/people/" + strconv.Itoa(i)
		if strings.TrimSpace(person.Name) == "" || names[person.Name] || len(person.Name) > 80 {
			p.Add(field+"/name", "each person needs a name of their own")
		}
		names[person.Name] = true
		from, errFrom := clock(person.From)
		to, errTo := clock(person.To)
		if errFrom != nil || errTo != nil || to <= from {
			p.Add(field+"/to", "hours go from one time to a later one of the same day, like 08:00 to 17:00")
		}
	}
	if len(s.Own) > mostOwn {
		p.Add("/own", "%d tasks of your own are too many: at most %d", len(s.Own), mostOwn)
	}
	for i, t := range s.Own {
		if strings.TrimSpace(t.Title) == "" || len(t.Title) > 120 || t.Hands < 0 || t.Wait < 0 || t.Hands+t.Wait < 1 || t.Hands+t.Wait > 7*24*60 {
			p.Add("/own/"+strconv.Itoa(i)+"/title", "a task needs a title, and a minute or more at the bench or of waiting, up to a week")
		}
	}
}

func (s Session) zone() (*time.Location, error) { return time.LoadLocation(s.Zone) }

// clock reads “08:30” as the minutes since midnight.
func clock(text string) (int, error) {
	t, err := time.Parse("15:04", text)
	return t.Hour()*60 + t.Minute(), err
}

// under puts problems under a field.
func under(field string, problems verdict.Problems) verdict.Problems {
	for i := range problems {
		problems[i].Field = field + problems[i].Field
	}
	return problems
}

// liquid is an item that was read.
type liquid struct {
	Item
	each     float64            // mL
	size     float64            // mL
	strength *quantity.Quantity // nil of what has none
	pH       float64            // 0 of no buffer
	own      map[string]float64 // allowances that were set, in mL
}

// read reads what was typed of an item.
func (it Item) read() (liquid, verdict.Problems) {
	var p verdict.Problems
	l := liquid{Item: it, own: map[string]float64{}}
	l.readName(&p)
	l.each = readVolume(it.Each, "/each", 0.01, &p)
	if it.Times < 1 || it.Times > mostTimes {
		p.Add("/times", "a group makes 1 to %d of them", mostTimes)
	}
	switch it.Glass {
	case Poured, Burette, Pipette, Cuvette, Probe:
	default:
		p.Add("/glass", "it is used from a burette, a pipette, a cuvette or a beaker with a probe, or poured")
	}
	if it.Pieces < 0 || it.Pieces > mostPieces {
		p.Add("/pieces", "a group has up to %d of them", mostPieces)
	}
	l.Pieces = max(1, it.Pieces)
	l.size = usualSizes[it.Glass]
	if strings.TrimSpace(it.Size) != "" {
		l.size = readVolume(it.Size, "/size", 0.01, &p)
	}
	for id, text := range it.Allowances {
		if !isAllowance(id) {
			p.Add("/allowances/"+id, "there is no such allowance")
			continue
		}
		l.own[id] = readVolume(text, "/allowances/"+id, 0, &p)
	}
	return l, p
}

// readName reads what it is, and how strong.
func (l *liquid) readName(p *verdict.Problems) {
	if strings.TrimSpace(l.Name) == "" || len(l.Name) > 120 {
		p.Add("/name", "say what is in it, like “sodium hydroxide”")
	}
	if strings.TrimSpace(l.Concentration) != "" {
		q, err := quantity.ParseAny(l.Concentration, strengths, "mol/L")
		switch {
		case err != nil:
			p.Add("/concentration", "%s", err)
		case !(q.Value > 0):
			p.Add("/concentration", "a strength is above nothing, like 0.1 mol/L")
		default:
			l.strength = &q
		}
	}
	if strings.TrimSpace(l.PH) != "" {
		var err error
		if l.pH, err = quantity.Number(l.PH); err != nil || l.pH < 0.5 || l.pH > 13.5 {
			p.Add("/pH", "the pH of a buffer lies between 0.5 and 13.5")
		}
	}
}

// readVolume reads a volume in mL.
func readVolume(text, field string, least float64, p *verdict.Problems) float64 {
	q, err := quantity.Parse(text, quantity.Volume, "mL")
	if err != nil {
		p.Add(field, "%s", err)
		return 0
	}
	mL := q.In("mL")
	if mL < least || mL > mostVolume {
		p.Add(field, "a volume from %g mL to %d mL, like 20 mL", max(least, 0.01), mostVolume)
	}
	return mL
}

// usualSizes are how much glass holds that no size is given of, in mL.
var usualSizes = map[Glass]float64{Burette: 50, Pipette: 20, Cuvette: 3, Probe: 50}
