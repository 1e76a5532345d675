package lab

import (
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"

	"vialbench/core/figure"
	"vialbench/core/glassware"
	"vialbench/core/session"
	"vialbench/core/substance"
	"vialbench/internal/store"
)

// Bounds on what is read to supply sessions.
const (
	mostBottlesNamed = 1000
	lastRuns         = 5 // of a kind, that tell how long one takes
)

// sessionStore is what sessions are supplied from.
type sessionStore struct {
	question session.Question
	// bottles are those that hold what any of the sessions asks for.
	bottles []session.Bottle
	// runs are those that made them, by the IDs of the bottles.
	runs map[string]string
	// substances are the lab's own, as they are kept.
	substances []byte
}

func (l *Lab) sessionStore(db *store.Store, rows []store.LabSession) (out sessionStore, err error) {
	own, err := ownedBy(db)
	if err != nil {
		return out, err
	}
	meters, err := db.Meters()
	if err != nil {
		return out, err
	}
	known, err := substances(db)
	if err != nil {
		return out, err
	}
	s := session.Store{Class: glassware.Class(own.settings.FlaskClass), Balances: len(own.balances), Meters: len(meters)}
	var lab []substance.Substance
	for _, k := range known {
		s.Substances = append(s.Substances, k.Substance)
		if k.Own {
			lab = append(lab, k.Substance)
		}
	}
	if out.substances, err = json.Marshal(lab); err != nil {
		return out, err
	}
	if s.Stock, err = l.heldStock(db); err != nil {
		return out, err
	}
	s.Flasks, s.Glass = glassware.Flasks(own.glass), own.glass
	for _, item := range own.glass {
		switch item.Kind {
		case glassware.Burette:
			s.Pieces = append(s.Pieces, session.Piece{Glass: session.Burette, Size: item.Volume, Number: item.Count})
		case glassware.OneMarkPipette:
			s.Pieces = append(s.Pieces, session.Piece{Glass: session.Pipette, Size: item.Volume, Number: item.Count})
		default:
		}
	}
	out.question = session.Question{Store: s, Thresholds: own.settings.Thresholds, Durations: session.Durations{}}
	lasting, err := db.LastingOf(session.Timed(), lastRuns)
	if err != nil {
		return out, err
	}
	for _, k := range lasting {
		out.question.Durations[k.Kind] = session.Minutes{Hands: int(math.Round(k.Minutes))}
	}
	out.bottles, out.runs, err = bottlesOf(db, rows)
	return out, err
}

// bottlesOf reads the bottles on the shelf that hold what sessions ask for, and which runs made them.
func bottlesOf(db *store.Store, rows []store.LabSession) (list []session.Bottle, runs map[string]string, err error) {
	names := map[string]bool{}
	for _, row := range rows {
		for _, item := range row.Plan.Items {
			names[nameOf(item.Name)] = true
		}
	}
	if len(names) == 0 {
		return nil, nil, nil
	}
	bottles, err := db.BottlesNamed(slices.Sorted(maps.Keys(names)), mostBottlesNamed)
	list, runs = make([]session.Bottle, len(bottles)), map[string]string{}
	for i, b := range bottles {
		c, _ := b.Product.Figure(figure.Concentration)
		pH, _ := b.Product.Figure(figure.PH)
		list[i] = session.Bottle{
			ID: b.ID, Number: b.Number, Name: b.Product.Name, Strength: c.Value, Unit: c.Unit, PH: pH.Value, Left: b.Left(),
			Known: b.Product.Exact || b.Product.Standardised != nil, Until: b.Product.StandardiseBy, Keeps: b.Product.Expires,
		}
		if b.RunID != nil {
			runs[b.ID] = *b.RunID
		}

	}
	return list, runs, err
}

func nameOf(liquid string) string { return strings.ToLower(strings.TrimSpace(liquid)) }

// bottlesFor are those of them that one session asks for, with what others were promised of each.
func (s sessionStore) bottlesFor(of session.Session, promised map[string]float64) []session.Bottle {
	var list []session.Bottle
	for _, b := range s.bottles {
		if slices.ContainsFunc(of.Items, func(item session.Item) bool { return nameOf(item.Name) == nameOf(b.Name) }) {
			b.Promised = promised[b.ID]
			list = append(list, b)
		}
	}
	return list
}
