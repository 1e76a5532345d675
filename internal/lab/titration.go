package lab

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"vialbench/core/dilution"
	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/reaction"
	"vialbench/core/run"
	"vialbench/core/titration"
	"vialbench/core/verdict"
)

func init() {
	register(kind{
		name: titration.Kind, place: 50, rules: titration.Rules, ask: askTitration,
		computations: map[string]computation{
			"titration": computes(titration.Solve),
			"equation":  computes(reaction.Solve),
		},
	})
}

// titrationQuestion asks for a titration: of the library by its key, or of an equation.
type titrationQuestion struct {
	Reaction    string `json:"reaction"`
	Equation    string `json:"equation"`
	Titrant     string `json:"titrant"`
	Analyte     string `json:"analyte"`
	Indicator   string `json:"indicator"`
	Standardise bool   `json:"standardise"`
	// TitrantBottle is in the burette. The sample is in SampleBottle, or is Substance that is
	// weighed, or an unknown by its Name.
	TitrantBottle string `json:"titrantBottle"`
	SampleBottle  string `json:"sampleBottle"`
	Substance     string `json:"substance"`
	Name          string `json:"name"`
	By            string `json:"by"`
	// Volume in mL or Mass in g of each sample.
	Volume float64 `json:"volume"`
	Mass   float64 `json:"mass"`
	// Dissolved is the solid that is made up to what the samples are taken of; nil of a solution.
	Dissolved *dissolvedQuestion `json:"dissolved"`
	Diluted   float64            `json:"diluted"`
	Density   float64            `json:"density"`
	// Burette in mL, the nearest of those owned. Device is what else the titrant runs from:
	// “syringe” or “graduated pipette” of that size, or “drops”: from the Tip that this run
	// calibrated, or of the volume of a Drop in mL.
	Burette float64 `json:"burette"`
	Mark    string  `json:"mark"` // which piece of that size it is; empty of any
	Device  string  `json:"device"`
	Tip     string  `json:"tip"`
	Drop    float64 `json:"drop"`
	Celsius float64 `json:"celsius"`
	// BackEquation is of the sample with the reagent that is added in excess beforehand, whose rest
	// is titrated, BackAnalyte what is sought; Reagent in mL comes from ReagentBottle. Empty of a
	// direct titration.
	BackEquation  string  `json:"backEquation"`
	BackAnalyte   string  `json:"backAnalyte"`
	ReagentBottle string  `json:"reagentBottle"`
	Reagent       float64 `json:"reagent"`
	// Settles reports whether the bottle of the sample takes over what is found.
	Settles bool `json:"settles"`
	// Note is a word to those who carry it out.
	Note string `json:"note"`
}

// dissolvedQuestion is a solid of about so many g in a flask of the lab, in mL.
type dissolvedQuestion struct {
	Mass  float64 `json:"mass"`
	Flask float64 `json:"flask"`
}

// askTitration takes bottles, glass, balance and rules from the lab.
func askTitration(question json.RawMessage, own *owned) (run.Plan, error) {
	var q titrationQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	r := titration.Request{
		Standardise: q.Standardise,
		By:          q.By,
		Volume:      q.Volume,
		Mass:        q.Mass,
		Diluted:     q.Diluted,
		Density:     q.Density,
		Settles:     q.Settles,
		Celsius:     q.Celsius,
		Note:        strings.TrimSpace(q.Note),
		Balance:     own.balance(),
		Thresholds:  own.settings.Thresholds,
	}
	var err error
	if r.Reaction, err = q.reaction(); err != nil {
		return nil, err
	}
	if r.Titrant, err = own.solution("/titrantBottle", q.TitrantBottle, r.Reaction, true); err != nil {
		return nil, err
	}
	if q.BackEquation != "" {
		if r.Back, err = q.back(r.Reaction, own); err != nil {
			return nil, err
		}
	}
	if err := q.sample(&r, own); err != nil {
		return nil, err
	}
	if d := q.Dissolved; d != nil {
		r.Dissolved = &titration.Dissolved{Mass: d.Mass, Flask: own.flask(d.Flask)}
	}
	if err := q.device(&r, own); err != nil {
		return nil, err
	}
	if r.Glass, err = q.glass(own); err != nil {
		return nil, at("/volume", verdict.Problems{{Reason: err.Error()}})
	}
	_, err = r.Design()
	return r, err
}

func (q titrationQuestion) reaction() (titration.Reaction, error) {
	if q.Reaction == "" {
		r, err := titration.Typed(q.Equation, q.Titrant, q.Analyte)
		r.Indicator = q.Indicator
		return r, err
	}
	r, ok := titration.Find(q.Reaction)
	if !ok {
		return r, verdict.Problems{{Field: "/reaction", Reason: fmt.Sprintf("no titration “%s” in the library", q.Reaction)}}
	}
	return r, nil
}

// back is what is added in excess beforehand.
func (q titrationQuestion) back(r titration.Reaction, own *owned) (*titration.Back, error) {
	back, err := titration.BackOf(r, q.BackEquation, q.BackAnalyte)
	if err != nil {
		return nil, err
	}
	if back.Reagent, err = own.solution("/reagentBottle", q.ReagentBottle, r, false); err != nil {
		return nil, err
	}
	back.Volume = q.Reagent
	if pipette, ok := own.pipette(q.Reagent); ok {
		back.Glass = pipette
	}
	return &back, nil
}

// descent goes from a bottle back through dilutions to an undiluted one; nil where there are none.
func (o *owned) descent(id string) (*run.Descent, error) {
	sample, err := o.tx.BottleByID(id)
	if err != nil {
		return nil, err
	}
	first := sample
	for {
		parents, err := o.tx.ParentsOf(first.ID)
		if err != nil {
			return nil, err
		}
		// What was poured together, made of several, or given a strength of its own by a titration
		// stands for itself.
		if first.Plan.Kind != dilution.Kind || first.Product.Standardised != nil || len(parents) != 1 || parents[0].Share != nil {
			break
		}
		if first, err = o.tx.BottleByID(parents[0].ParentID); err != nil {
			return nil, err
		}
	}
	d, ok := run.DescentOf(sample.Product, first.Product, first.ID, first.Number)
	if !ok {
		return nil, nil
	}
	return d, nil
}

// byDrops is the device of a titration in counted drops.
const byDrops = "drops"

// device is what the titrant comes from.
func (q titrationQuestion) device(r *titration.Request, own *owned) (err error) {
	switch kind := glassware.Kind(q.Device); kind {
	case byDrops:
		r.Tip, err = own.tip(q.Tip, q.Drop)
	case "", glassware.Burette, glassware.Syringe, glassware.GraduatedPipette:
		r.Burette, err = own.piece(cmp.Or(kind, glassware.Burette), q.Burette, q.Mark)
	default:
		err = verdict.Problems{{Field: "/device", Reason: "the titrant runs from a burette, a graduated pipette or a syringe, or in drops"}}
	}
	return err
}

// piece is the glass of a kind that comes next to a volume in mL; with a mark it is that piece.
func (o *owned) piece(kind glassware.Kind, mL float64, mark string) (glassware.Item, error) {
	if mark == "" {
		return glassware.Largest(kind, mL, o.glass), nil
	}
	i := slices.IndexFunc(o.glass, func(i glassware.Item) bool { return i.Kind == kind && i.Volume == mL && i.Mark == mark })
	if i < 0 {
		gone := fmt.Sprintf("no %g mL %s %s here any more: choose another one", mL, kind, mark)
		return glassware.Item{}, verdict.Problems{{Field: "/burette", Reason: gone}}
	}
	return o.glass[i], nil
}

// sample reads what is in the flask.
func (q titrationQuestion) sample(r *titration.Request, own *owned) error {
	var err error
	switch {
	case (q.By == titration.Weighed || q.Dissolved != nil) && q.Substance != "":
		s, err := own.substance(q.Substance)
		if err != nil {
			return at("/substance", verdict.Problems{{Reason: "this substance is not in the lab: add it in the lab setup first"}})
		}
		units, ok := r.SoughtUnits(s.Formula)
		if !ok {
			return verdict.Problems{
				{Field: "/substance", Reason: fmt.Sprintf("%s holds no %s: take what this titration asks for", s.Name, r.Sought())},
			}
		}
		r.Substance, r.Sample = &s, titration.Solution{Name: s.Name, Formula: s.Formula, Units: units}
	case q.By != titration.Weighed && q.Dissolved == nil && q.SampleBottle != "":
		if r.Back != nil {
			return verdict.Problems{{Field: "/sampleBottle", Reason: "what is found by a back titration is unknown: name it instead of a bottle"}}
		}
		if r.Sample, err = own.solution("/sampleBottle", q.SampleBottle, r.Reaction, false); err == nil && !r.Standardise {
			r.Descent, err = own.descent(q.SampleBottle)
		}
	default:
		r.Sample = titration.Solution{Name: q.Name}
	}
	return err
}

// glass is what a sample is taken with.
func (q titrationQuestion) glass(own *owned) (glassware.Item, error) {
	switch q.By {
	case titration.ByPipette:
		pipette, ok := own.pipette(q.Volume)
		if !ok {
			return glassware.Item{}, fmt.Errorf("no pipette here delivers %g mL: take one that you own, or a second burette", q.Volume)
		}
		return pipette, nil
	case titration.ByBurette:
		return glassware.Largest(glassware.Burette, q.Volume, own.glass), nil
	case titration.ByCylinder:
		return glassware.MeasureFor(glassware.Cylinder, q.Volume, own.glass)
	}
	return glassware.Item{}, nil
}

// flask is the one of the lab of a volume in mL; of a volume that none has, one that there is not.
func (o *owned) flask(mL float64) glassware.Flask {
	f, _, err := glassware.Flasks(o.glass).For(mL, glassware.Class(o.settings.FlaskClass))
	if err != nil || f.Volume != mL {
		return glassware.Flask{}
	}
	return f
}

// pipette is the one of the lab that delivers a volume in mL.
func (o *owned) pipette(mL float64) (item glassware.Item, ok bool) {
	list := glassware.OfKind(glassware.OneMarkPipette, o.glass)
	i := slices.IndexFunc(list, func(i glassware.Item) bool { return i.Volume == mL })
	if i < 0 {
		return item, false
	}
	return list[i], true
}

// solution is what a bottle holds for a reaction.
func (o *owned) solution(field, id string, of titration.Reaction, titrant bool) (titration.Solution, error) {
	if id == "" {
		return titration.Solution{}, verdict.Problems{{Field: field, Reason: "choose the bottle"}}
	}
	b, err := o.bottle(id)
	if err != nil {
		return titration.Solution{}, at(field, err)
	}
	s, ok := of.SolutionOf(b.Product, b.ID, b.Number, titrant)
	if !ok {
		what := of.Analyte
		if titrant {
			what = of.Titrant
		}
		return s, verdict.Problems{{Field: field, Reason: fmt.Sprintf("bottle %d contains no %s: take one that does", b.Number, what)}}
	}
	return s, nil
}
