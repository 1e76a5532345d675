package lab

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"vialbench/core/absorbance"
	"vialbench/core/figure"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
	"vialbench/internal/store"
)

func init() {
	register(kind{
		name: absorbance.Kind, place: 60, rules: photometry.Rules, ask: askAbsorbance,
		computations: map[string]computation{"line": computes(photometry.Fit)},
	})
}

// absorbanceQuestion asks for a line: of tubes on the shelf, of standards as they are typed, or that of an earlier run.
type absorbanceQuestion struct {
	Substance string   `json:"substance"`
	Bottles   []string `json:"bottles"`
	// Typed concentrations in Unit, of standards that are not on the shelf.
	Typed []float64 `json:"typed"`
	Unit  string    `json:"unit"`
	// Additions to portions of the sample, instead of standards.
	Additions *additionsQuestion `json:"additions"`
	// Line is the run that it was made in.
	Line       string            `json:"line"`
	Unknowns   []unknownQuestion `json:"unknowns"`
	Wavelength float64           `json:"wavelength"`
	Path       float64           `json:"path"`
	Cells      int               `json:"cells"`
	Replicates int               `json:"replicates"`
	Guess      bool              `json:"guess"`
	Warm       bool              `json:"warm"`
	// Scatter says how the readings of the line scatter; none where all do so alike.
	Scatter *photometry.Scatter `json:"scatter"`
	// Photometer that it is read with, by its ID; empty where that is not put on record.
	Photometer string `json:"photometer"`
}

type additionsQuestion struct {
	Sample float64   `json:"sample"`
	Final  float64   `json:"final"`
	Added  []float64 `json:"added"`
	// Standard is the concentration of what is added, or Bottle what is on the shelf.
	Standard float64 `json:"standard"`
	Bottle   string  `json:"bottle"`
}

type unknownQuestion struct {
	Name    string  `json:"name"`
	Owner   string  `json:"owner"`
	Bottle  string  `json:"bottle"`
	Diluted float64 `json:"diluted"`
}

// askAbsorbance takes tubes and rules from the lab.
func askAbsorbance(question json.RawMessage, own *owned) (run.Plan, error) {
	var q absorbanceQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	r := absorbance.Request{
		Substance: q.Substance, Unit: q.Unit, Wavelength: q.Wavelength, Path: q.Path, Cells: q.Cells, Replicates: q.Replicates,
		Guess: q.Guess, Warm: q.Warm, Scatter: q.Scatter,
		Standards: []absorbance.Standard{}, Unknowns: []absorbance.Unknown{}, Thresholds: own.settings.Thresholds,
	}
	var err error
	if r.Photometer, err = own.photometer(q.Photometer); err != nil {
		return nil, err
	}
	var solute string
	switch {
	case q.Line != "":
		err = own.earlierLine(&r, q.Line)
	case q.Additions != nil:
		err = own.additions(&r, *q.Additions)
	default:
		solute, err = own.standards(&r, q)
	}
	if err != nil {
		return nil, err
	}
	for i, u := range q.Unknowns {
		unknown, err := own.unknown(u, solute)
		if err != nil {
			return nil, at("/unknowns/"+strconv.Itoa(i), err)
		}
		r.Unknowns = append(r.Unknowns, unknown)
	}
	if _, err = r.Design(); err == nil && r.Earlier == nil {
		err = own.before(&r)
	}
	return r, err
}

// before fills in the newest line of the same substance at the same wavelength.
func (o *owned) before(r *absorbance.Request) error {
	runs, err := o.tx.FinishedRuns(absorbance.Kind, maxPastLines)
	if err != nil {
		return err
	}
	plain := *r // additions are compared with a line of plain standards
	plain.Additions = nil
	for _, run := range runs {
		if !strings.EqualFold(run.Plan.Title, plain.Title()) {
			continue
		}
		line, err := lineOf(o.tx, run)
		if err != nil || line == nil {
			return err
		}
		was := line.Plan
		if fitted, _, err := line.line.Ordinary(was.Unit); err == nil && was.Unit == r.Unit {
			path := r.Path / was.Path
			r.Before = &absorbance.Before{
				Number: run.Number, Slope: fitted.Slope * path, SlopeSE: fitted.SlopeSE() * path, Intercept: fitted.Intercept,
			}
		}
		return nil
	}
	return nil
}

// earlierLine fills in the line of a finished run, with what belongs to it.
func (o *owned) earlierLine(r *absorbance.Request, id string) error {
	line, err := o.pastLine(id, "/line")
	if err != nil {
		return err
	}
	was := line.Plan
	r.Substance, r.Unit, r.Wavelength, r.Path = was.Substance, was.Unit, was.Wavelength, was.Path
	r.Earlier = &absorbance.Earlier{Run: line.Run.ID, Number: line.Run.Number, Line: line.line}
	return nil
}

// pastLine is the line that a run made; problems are of the field.
func (o *owned) pastLine(id, field string) (*PastLine, error) {
	if !isUUID(id) {
		return nil, verdict.Problems{{Field: field, Reason: "a line is named by the run that it was made in"}}
	}
	of, err := o.tx.RunByID(id, false)
	if err != nil {
		return nil, at(field, found(err, "this line"))
	}
	line, err := lineOf(o.tx, of)
	if err == nil && line == nil {
		err = verdict.Problems{{Field: field, Reason: fmt.Sprintf("run %d keeps no line: take one that was finished", of.Number)}}
	}
	return line, err
}

// additions fills in the portions that are read, and what is added to them.
func (o *owned) additions(r *absorbance.Request, q additionsQuestion) error {
	d := absorbance.Additions{Sample: q.Sample, Final: q.Final, Added: q.Added, Standard: uncertain.Exact(q.Standard)}
	if q.Bottle == "" {
		var p verdict.Problems
		if checkUnit(r.Unit, &p); len(p) > 0 {
			return p
		}
	} else {
		b, err := o.bottle(q.Bottle)
		if err != nil {
			return at("/additions/bottle", err)
		}
		r.Unit = absorbance.UnitOf(b.Product)
		if d.Standard, err = absorbance.Strength(b.Product, r.Unit); err != nil {
			return verdict.Problems{{Field: "/additions/bottle", Reason: err.Error()}}
		}
		d.Bottle, d.Number = b.ID, b.Number
	}
	r.Additions = &d
	if _, err := r.Design(); err != nil {
		return err
	}
	r.Standards = d.Portions()
	return nil
}

// checkUnit adds a problem for a unit that concentrations on a line are not told in.
func checkUnit(text string, p *verdict.Problems) {
	if text == "" {
		p.Add("/unit", "say the unit of the concentrations, like mg/L")
	} else if unit, err := quantity.UnitOf(text); err != nil || !unit.Dimension.PerVolume() {
		p.Add("/unit", "concentrations are told per volume, like mg/L or mmol/L, not in %s", text)
	}
}

// standards fills in what is read, from the shelf or as it was typed, and returns the solute where the shelf knows it.
func (o *owned) standards(r *absorbance.Request, q absorbanceQuestion) (solute string, err error) {
	var p verdict.Problems
	checkUnit(r.Unit, &p)
	if len(q.Bottles) == 0 && len(p) > 0 {
		return "", p
	}
	for i, id := range q.Bottles {
		field := "/bottles/" + strconv.Itoa(i)
		b, err := o.bottle(id)
		if err != nil {
			return "", at(field, err)
		}
		if i == 0 {
			r.Unit, solute = absorbance.UnitOf(b.Product), b.Product.Solute()
		}
		c, err := absorbance.Strength(b.Product, r.Unit)
		if err != nil {
			return "", verdict.Problems{{Field: field, Reason: err.Error()}}
		}
		r.Standards = append(r.Standards, absorbance.Standard{Bottle: b.ID, Number: b.Number, Concentration: c})
	}
	for _, c := range q.Typed {
		r.Standards = append(r.Standards, absorbance.Standard{Concentration: uncertain.Exact(c)})
	}
	return solute, nil
}

// unknown is one from the shelf or by its name.
func (o *owned) unknown(q unknownQuestion, solute string) (absorbance.Unknown, error) {
	u := absorbance.Unknown{Name: q.Name, Owner: q.Owner, Diluted: q.Diluted}
	if q.Bottle == "" {
		return u, nil
	}
	b, err := o.bottle(q.Bottle)
	if err != nil {
		return u, at("/bottle", err)
	}
	if is := b.Product.Solute(); is != "" && solute != "" && is != solute {
		return u, verdict.Problems{{Field: "/bottle", Reason: fmt.Sprintf("bottle %d contains %s, and the standards %s: another line is needed", b.Number, is, solute)}}
	}
	u.Bottle, u.Number = b.ID, b.Number
	if u.Name == "" {
		u.Name = fmt.Sprintf("bottle %d", b.Number)
	}
	u.Descent, err = o.descent(b.ID)
	return u, err
}

// PastLine is a line that later readings can depend on.
type PastLine struct {
	Run store.Run
	// Says is the slope in words.
	Title, Says string
	// Plan is how it was measured.
	Plan absorbance.Request
	line absorbance.Line
}

// maxPastLines is how many runs are looked through for lines.
const maxPastLines = 50

// Lines lists the lines of finished runs, newest first.
func (l *Lab) Lines(ctx context.Context) ([]PastLine, error) {
	db := l.store.With(ctx)
	runs, err := db.FinishedRuns(absorbance.Kind, maxPastLines)
	if err != nil {
		return nil, err
	}
	var list []PastLine
	for _, r := range runs {
		line, err := lineOf(db, r)
		if err != nil {
			return nil, err
		}
		if line != nil {
			list = append(list, *line)
		}
	}
	return list, nil
}

// lineOf is the line that a run made; nil when it made none, or read from another one.
func lineOf(db *store.Store, of store.Run) (*PastLine, error) {
	view, err := runView(db, of.ID, false)
	if err != nil {
		return nil, err
	}
	out, err := view.plan.Make(view.stated(), view.ChangedAt)
	if err != nil || len(out.Products) == 0 {
		return nil, err
	}
	is, ok := view.plan.(absorbance.Request)
	line, kept := out.Products[0].Detail.(absorbance.Line)
	if !ok || !kept || is.Earlier != nil || is.Additions != nil {
		return nil, nil
	}
	past := PastLine{Run: of, Title: is.Title(), Plan: is, line: line}
	if i := slices.IndexFunc(out.Products[0].Figures, func(f figure.Figure) bool { return f.ID == "slope" }); i >= 0 {
		past.Says = out.Products[0].Figures[i].String()
	}
	return &past, nil
}
