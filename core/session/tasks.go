package session

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"vialbench/core/glassware"
	"vialbench/core/schedule"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

// Task is something that is done before a session begins.
type Task struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// Kind is the kind of work whose run does it; empty of what is ticked by hand.
	Kind string `json:"kind,omitempty"`
	// Item is the item that it is for, and Option the way in which that is supplied.
	Item   string  `json:"item,omitempty"`
	Option *Option `json:"option,omitempty"`
	// Hands and Wait are in minutes.
	Hands int      `json:"hands"`
	Wait  int      `json:"wait"`
	After []string `json:"after"`
	// From is the earliest it can be done, RFC 3339; none where it can be done at any time.
	From *time.Time     `json:"from,omitempty"`
	Uses []schedule.Use `json:"uses"`
	// Why says what the minutes or the earliest time come from.
	Why string `json:"why,omitempty"`
}

// Supplies reports whether a task makes a bottle that serves, or fit to serve: the plan asks for it as long as none
// does, whatever was done before.
func Supplies(task string) bool {
	return strings.HasPrefix(task, "make ") || strings.HasPrefix(task, "dilute ") || strings.HasPrefix(task, "standardise ")
}

// Minutes is how long a piece of work takes at the bench and waiting.
type Minutes struct {
	Hands int `json:"hands"`
	Wait  int `json:"wait"`
}

// Durations are minutes by what is done. The names of the kinds of work are among them; what is missing has
// its first value (common practice).
type Durations map[string]Minutes

// What is done besides the kinds of work.
const (
	drying   = "dry"
	cooling  = "cool"
	making   = "standard" // one flask
	diluting = "dilution" // one flask
	buffers  = "buffer"
	titrates = "titration"
	settling = "calibration"
	filling  = "fill" // one burette
	setting  = "set out"
)

// usual are the first values of the durations (common practice).
var usual = Durations{
	drying: {5, 120}, cooling: {0, 30}, making: {30, 0}, diluting: {10, 0}, buffers: {25, 0}, titrates: {40, 0},
	settling: {15, 0}, filling: {3, 0}, setting: {3, 0},
}

// Timed are the kinds of work whose durations a lab's own runs tell.
func Timed() []string { return []string{making, diluting, buffers, titrates, settling} }

// of is how long something takes, so many times.
func (d Durations) of(what string, times int) Minutes {
	m, ok := d[what]
	if !ok {
		m = usual[what]
	}
	return Minutes{(m.Hands*times + grid - 1) / grid * grid, m.Wait}
}

// grid is how finely people plan, in minutes.
const grid = 5

// The things that tasks share.
const (
	oven    = "oven"
	balance = "balance"
	hood    = "hood"
	meter   = "pH meter"
)

// tasks lists what follows from the supplies, in the order in which it is thought of.
func (s Session) tasks(store Store, supplies []Supply, d Durations, rules verdict.Thresholds) []Task {
	var list []Task
	byItem := map[string][]string{} // what has to be over before an item can be filled in
	for i, sup := range supplies {
		o := sup.taken()
		if o == nil {
			continue
		}
		l, _ := s.Items[i].read()
		made := s.make(store, l, *o, d, rules)
		for _, t := range made {
			byItem[l.ID] = append(byItem[l.ID], t.ID)
		}
		list = append(list, made...)
	}
	list = append(list, s.calibrations(store, d, rules)...)
	list = append(list, s.places(d, byItem, rules)...)
	for i, own := range s.Own {
		list = append(list, Task{ID: own.id(i), Title: own.Title, Hands: own.Hands, Wait: own.Wait})
	}
	return list
}

func (own OwnTask) id(i int) string {
	if own.ID != "" {
		return "own " + own.ID
	}
	return fmt.Sprint("own ", i)
}

// make lists what is done so that an item is there.
func (s Session) make(store Store, l liquid, o Option, d Durations, rules verdict.Thresholds) []Task {
	var list []Task
	title := inSentence(l.title())
	last := ""
	add := func(t Task, m Minutes) {
		t.Item, t.Hands, t.Wait = l.ID, m.Hands, m.Wait
		if last != "" {
			t.After = []string{last}
		}
		list = append(list, t)
		last = t.ID
	}
	flasks := ", " + flaskWords(o.Flasks)
	inFlasks := useFlasks(o.Flasks)
	switch {
	case o.How == byDilute:
		to := "Dilute " + inSentence(strings.TrimSpace(l.Name)) + " to " + l.strength.String()
		add(Task{ID: "dilute " + l.ID, Title: to + flasks, Kind: diluting, Option: &o, Uses: inFlasks}, d.of(diluting, len(o.Flasks)))
	case o.How == byMaking && l.pH > 0:
		uses := slices.Concat(inFlasks, []schedule.Use{{Thing: meter, Number: 1}})
		add(Task{ID: "make " + l.ID, Title: "Make " + title + flasks, Kind: buffers, Option: &o, Uses: uses}, d.of(buffers, len(o.Flasks)))
	case o.How == byMaking:
		sub := store.Substances[store.substance(l.Name)]
		if sub.Class == substance.Primary && strings.Contains(sub.Drying, "°C") {
			uses := []schedule.Use{{Thing: oven, Number: 1, Waiting: true}}
			add(Task{ID: "dry " + l.ID, Title: "Dry " + inSentence(sub.Name), Uses: uses, Why: sub.Drying}, d.of(drying, 1))
			add(Task{ID: "cool " + l.ID, Title: "Let " + inSentence(sub.Name) + " cool in the desiccator"}, d.of(cooling, 1))
		}
		from := balance
		if sub.Liquid {
			from = hood
		}
		uses := slices.Concat(inFlasks, []schedule.Use{{Thing: from, Number: 1}})
		add(Task{ID: "make " + l.ID, Title: "Make " + title + flasks, Kind: making, Option: &o, Uses: uses}, d.of(making, len(o.Flasks)))
	}
	settle, loose := o.settling(title)
	if settle == "" {
		return list
	}
	if len(loose) > 0 {
		o.How, o.Takes = byBottle, loose
	}
	from := s.Starts.Add(-time.Duration(rules.Of(RuleWeek)*24) * time.Hour)
	add(Task{ID: "standardise " + l.ID, Title: settle, Kind: titrates, Option: &o, From: &from, Why: "rule S-11"}, d.of(titrates, 1))
	return list
}

// useFlasks are the flasks that are in use until what was made in them is in its bottle: one of each size, since they are
// filled one after another.
func useFlasks(volumes []float64) []schedule.Use {
	var uses []schedule.Use
	for _, v := range volumes {
		thing := Volume(v) + " flask"
		if !slices.ContainsFunc(uses, func(u schedule.Use) bool { return u.Thing == thing }) {
			uses = append(uses, schedule.Use{Thing: thing, Number: 1})
		}
	}
	return uses
}

// flasksUsed are the flasks that tasks use, with how many of each there are; of those that nobody listed, as many as tasks.
func (store Store) flasksUsed(tasks []Task) []schedule.Use {
	var list []schedule.Use
	for _, t := range tasks {
		for _, u := range t.Uses {
			size, isFlask := strings.CutSuffix(u.Thing, " flask")
			if !isFlask || slices.ContainsFunc(list, func(x schedule.Use) bool { return x.Thing == u.Thing }) {
				continue
			}
			owned := 0
			for _, item := range store.Glass {
				if item.Kind == glassware.VolumetricFlask && Volume(item.Volume) == size {
					owned += item.Count
				}
			}
			if owned == 0 {
				owned = len(tasks)
			}
			list = append(list, schedule.Use{Thing: u.Thing, Number: owned})
		}
	}
	return list
}

// settling is what is done to find a strength, and the bottles on the shelf that it is found of; nothing where none is.
func (o Option) settling(title string) (what string, loose []Take) {
	loose = unsettled(o.Takes)
	poured := len(loose)
	if o.How != byBottle && o.Standardise {
		poured += len(o.Flasks)
	}
	switch {
	case poured == 0:
		return "", nil
	case poured > 1 && o.How == byBottle:
		return "Pour " + inSentence(bottleWords(loose)) + " together, and standardise " + title, loose
	case poured > 1:
		return "Pour together and standardise " + title, loose
	case len(o.Takes) > len(loose) && len(loose) == 1:
		return "Standardise " + inSentence(bottleWords(loose)) + ", " + title, loose
	}
	return "Standardise " + title, loose
}

// calibrations are one task for each meter, or for as many as there are.
func (s Session) calibrations(store Store, d Durations, rules verdict.Thresholds) []Task {
	var list []Task
	from := s.Starts.Add(-time.Duration(rules.Of(RuleFresh)) * time.Minute)
	for k := range min(s.Meters, store.Meters) {
		m := d.of(settling, 1)
		title := "Calibrate a pH meter"
		if s.Meters > 1 {
			title = fmt.Sprintf("Calibrate pH meter %d", k+1)
		}
		list = append(list, Task{
			ID: fmt.Sprint("calibrate ", k+1), Title: title, Kind: settling, Hands: m.Hands, Wait: m.Wait, From: &from, Why: "rule S-10",
			Uses: []schedule.Use{{Thing: meter, Number: 1}},
		})
	}
	return list
}

// places sets the places out, and fills the burettes last.
func (s Session) places(d Durations, byItem map[string][]string, rules verdict.Thresholds) []Task {
	var list []Task
	groups := s.Groups + int(rules.Of(RulePlaces))
	burettes := 0
	var after, liquids []string
	for _, item := range s.Items {
		if item.Glass == Burette {
			burettes += groups * max(1, item.Pieces)
			after = append(after, byItem[item.ID]...)
			liquids = append(liquids, inSentence(strings.TrimSpace(item.Name)))
		}
	}
	day := s.Starts.Add(-24 * time.Hour)
	m := d.of(setting, groups)
	list = append(list, Task{ID: "set out", Title: "Set out " + count(groups, "place"), Hands: m.Hands, Wait: m.Wait, From: &day})
	if burettes > 0 {
		from := s.Starts.Add(-time.Duration(rules.Of(RuleFresh)+rules.Of(RuleReserve)) * time.Minute)
		m := d.of(filling, burettes)
		parts := max(1, int(math.Ceil(float64(m.Hands)/shared)))
		for k := range parts {
			share := burettes/parts + btoi(k < burettes%parts)
			m := d.of(filling, share)
			list = append(list, Task{
				ID: fmt.Sprint("fill ", k+1), Title: "Rinse and fill " + count(share, "burette") + ": " + strings.Join(liquids, ", "),
				Hands: m.Hands, Wait: m.Wait, From: &from, After: append([]string{"set out"}, after...), Why: "last of all",
			})
		}
	}
	return list
}

// shared is for how many minutes burettes are filled by one person before others help.
const shared = 25

// inSentence begins a name with a small letter, but for one in capitals, like EDTA.
func inSentence(name string) string {
	if len(name) > 1 && strings.ToLower(name[1:2]) == name[1:2] {
		return strings.ToLower(name[:1]) + name[1:]
	}
	return name
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}
