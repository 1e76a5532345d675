package lab

import (
	"encoding/json"
	"fmt"
	"strings"

	"vialbench/core/glassware"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/solution"
)

func init() {
	register(kind{
		name: solution.Kind, place: 10, rules: solution.Rules, ask: askStandard,
		fromRow: standardFromRow, toRow: standardToRow,
		computations: map[string]computation{"standard": computes(solution.Solve)},
	})
}

// askStandard takes substances, balance, glass, rules and the temperature of the bench
// from the lab.
func askStandard(question json.RawMessage, own *owned) (run.Plan, error) {
	var q solution.Question
	err := quantity.Decode(question, &q)
	if err != nil {
		return nil, err
	}
	if q.Substance, err = own.substance(q.Substance.Key); err != nil {
		return nil, err
	}
	for i := range q.Also {
		if q.Also[i].Substance, err = own.substance(q.Also[i].Substance.Key); err != nil {
			return nil, at(fmt.Sprintf("/also/%d", i), err)
		}
	}
	q.Balance, q.Balances, q.Glass, q.WaterTemperature = own.balance(), own.balances, own.glass, own.bench.WaterTemperature
	q.Buoyancy, q.Thresholds = own.settings.Buoyancy, own.settings.Thresholds
	return q.Request()
}

// standardFromRow reads a plan out of a line of a table; the names are those of its
// columns.
func standardFromRow(in *importer, r row) (run.Plan, map[string]string) {
	p := &in.problems
	s, ok := in.byName[strings.ToLower(r.cells["substance"])]
	if !ok {
		if s, ok = in.byKey[r.cells["substance"]]; !ok {
			p.Add(r.place()+"/substance", "“%s” is not in the lab: name it as the lab setup does, or add it first", r.cells["substance"])
		}
	}
	request := solution.Request{
		Solute:           solution.Solute{Substance: s.Substance, Of: r.cells["of"], Assay: 1},
		Glass:            in.own.glass,
		FlaskClass:       glassware.Class(strings.ToUpper(r.cells["flask class"])),
		Balance:          in.own.balance(),
		WaterTemperature: glassware.ReferenceTemperature,
		Buoyancy:         in.own.settings.Buoyancy,
		Thresholds:       in.own.settings.Thresholds,
		Band:             in.own.settings.Thresholds.Of(solution.RuleBand) / 100,
	}
	if s.MassFraction > 0 {
		request.Assay = s.MassFraction
	}
	if r.cells["assay %"] != "" {
		request.Assay = r.number("assay %", p) / 100
	}
	request.AssayLimits = r.number("assay limits %", p) / 100
	if r.cells["band %"] != "" {
		request.Band = r.number("band %", p) / 100
	}
	if request.FlaskClass == "" {
		request.FlaskClass = glassware.Class(in.own.settings.FlaskClass)
	}
	var err error
	if request.Concentration, err = quantity.ParseAny(r.cells["concentration"], solution.Bases(), "mol/L"); err != nil {
		p.Add(r.place()+"/concentration", "%s", err)
	}
	if request.Volume, err = quantity.Parse(r.cells["volume"], quantity.Volume, "mL"); err != nil {
		p.Add(r.place()+"/volume", "%s", err)
	}
	return request, map[string]string{"assay": "assay %", "assayLimits": "assay limits %", "band": "band %", "flaskClass": "flask class"}
}

func standardToRow(id string, plan run.Plan) []string {
	r := plan.(solution.Request) //nolint:errcheck // what this kind decodes
	return []string{
		r.Substance.Name, r.Concentration.String(), r.Volume.String(), id, r.Of, plain(100 * r.Assay), plain(100 * r.AssayLimits),
		string(r.FlaskClass), plain(100 * r.Band),
	}
}
