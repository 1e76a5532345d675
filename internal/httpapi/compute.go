package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"sort"
	"strings"

	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/verdict"
)

// The computations are stateless: the same bodies go through the API and through
// the command line.

// computations are the operations of POST /compute/… and of vialbench compute.
var computations = map[string]func(body []byte) (any, error){
	"formula":  computation(computeFormula),
	"quantity": computation(computeQuantity),
	"standard": computation(computeStandard),
}

func computation[In, Out any](compute func(In) (Out, error)) func([]byte) (any, error) {
	return func(body []byte) (any, error) {
		var in In
		decoder := json.NewDecoder(bytes.NewReader(body))
		decoder.DisallowUnknownFields()
		if err := decoder.Decode(&in); err != nil {
			return nil, fmt.Errorf("the input cannot be read: %w", err)
		}
		return compute(in)
	}
}

// Compute carries out an operation by name on a JSON body and returns the JSON
// answer. It touches no database.
func Compute(operation string, body []byte) ([]byte, error) {
	compute, ok := computations[operation]
	if !ok {
		var names []string
		for name := range computations {
			names = append(names, name)
		}
		sort.Strings(names)
		return nil, fmt.Errorf("no computation “%s”: use one of %s", operation, strings.Join(names, ", "))
	}
	answer, err := compute(body)
	if err != nil {
		var problems verdict.Problems
		if errors.As(err, &problems) {
			lines := make([]string, len(problems))
			for i, p := range problems {
				lines[i] = p.Field + ": " + p.Reason
			}
			return nil, errors.New(strings.Join(lines, "\n"))
		}
		return nil, err
	}
	return json.MarshalIndent(answer, "", "  ")
}

func computeFormula(q FormulaQuestion) (FormulaAnswer, error) {
	f, err := formula.Parse(q.Formula)
	if err != nil {
		var wrong *formula.Error
		if errors.As(err, &wrong) {
			return FormulaAnswer{}, verdict.Problems{{Field: "/formula", Reason: fmt.Sprintf("at character %d: %s", wrong.At+1, wrong.Reason)}}
		}
		return FormulaAnswer{}, err
	}
	m := f.MolarMass()
	text, u := quantity.Round(m.Value, m.Expanded())
	answer := FormulaAnswer{Text: f.String(), Pieces: f.Pieces, Charge: f.Charge, MolarMass: m.Value, MolarMassText: text + " ± " + u + " g/mol"}
	for _, share := range f.Composition() {
		answer.Composition = append(answer.Composition, ElementShare{Symbol: share.Symbol, Name: share.Name, Atoms: share.Atoms, Fraction: share.Fraction})
	}
	return answer, nil
}

func computeQuantity(q QuantityQuestion) (QuantityAnswer, error) {
	dimensions := make([]quantity.Dimension, len(q.Dimensions))
	for i, d := range q.Dimensions {
		dimensions[i] = quantity.Dimension(d)
	}
	read, err := quantity.ParseAny(q.Text, dimensions, text(q.Unit))
	if err != nil {
		return QuantityAnswer{}, verdict.Problems{{Field: "/text", Reason: err.Error()}}
	}
	return QuantityAnswer{Quantity: read, Understood: read.String()}, nil
}

func computeStandard(q StandardQuestion) (StandardAnswer, error) {
	request, err := standardRequest(q)
	if err != nil {
		return StandardAnswer{}, err
	}
	recipe, err := solution.Plan(request)
	if err != nil {
		return StandardAnswer{}, err
	}
	lines, err := solution.ExplainPlan(request)
	return StandardAnswer{Title: request.Title(), Recipe: recipe, Working: lines}, err
}

// standardRequest reads the quantities of a question.
func standardRequest(q StandardQuestion) (solution.Request, error) {
	var p verdict.Problems
	r := solution.Request{Substance: q.Substance, Assay: q.AssayPercent / 100, Of: text(q.Of), FlaskClass: q.FlaskClass,
		Band: q.BandPercent / 100, Balance: q.Balance, WaterTemperature: q.WaterTemperature}
	if q.AssayLimitsPercent != nil {
		r.AssayLimits = *q.AssayLimitsPercent / 100
	}
	r.Waters, r.Reaction = q.Waters, text(q.Reaction)
	if q.Dispense != nil {
		r.Dispense = *q.Dispense
	}
	for target, given := range map[*float64]*float64{&r.SolutionDensity: q.SolutionDensity, &r.SolutionDensityLimits: q.SolutionDensityLimits, &r.EquivalentCount: q.EquivalentCount,
		&r.LiquidDensity: q.LiquidDensity} {
		if given != nil {
			*target = *given
		}
	}
	if q.Buoyancy != nil {
		r.Buoyancy = *q.Buoyancy
	}
	if q.Thresholds != nil {
		r.Thresholds = *q.Thresholds
	}
	r.Concentration = *readQuantity(&q.Concentration, "/concentration", &p, solution.Bases()...)
	r.Volume = *readQuantity(&q.Volume, "/volume", &p, quantity.Volume)
	return r, p.OrNil()
}

// readQuantity reads a quantity of one of some dimensions, noting a problem when
// it cannot; nil stays nil. A quantity that is none of the dimensions is passed
// on when value and unit are stated, so that the core says what it should be.
func readQuantity(in *QuantityInput, field string, p *verdict.Problems, dimensions ...quantity.Dimension) *quantity.Quantity {
	if in == nil {
		return nil
	}
	out := quantity.Quantity{Decimals: -1}
	if in.Text != nil || in.Value == nil {
		read, err := quantity.ParseAny(text(in.Text), dimensions, text(in.Unit))
		if err != nil {
			p.Add(field, "%s", err)
			return &out
		}
		return &read
	}
	unit, err := quantity.FindUnit(text(in.Unit))
	if err != nil {
		p.Add(field, "%s", err)
		return &out
	}
	out.Value, out.Unit = *in.Value, unit
	return &out
}

func text(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// ComputeFormula implements StrictServerInterface.
func (s *Server) ComputeFormula(_ context.Context, r ComputeFormulaRequestObject) (ComputeFormulaResponseObject, error) {
	answer, err := computeFormula(*r.Body)
	return ComputeFormula200JSONResponse(answer), err
}

// ComputeQuantity implements StrictServerInterface.
func (s *Server) ComputeQuantity(_ context.Context, r ComputeQuantityRequestObject) (ComputeQuantityResponseObject, error) {
	answer, err := computeQuantity(*r.Body)
	return ComputeQuantity200JSONResponse(answer), err
}

// ComputeStandard implements StrictServerInterface.
func (s *Server) ComputeStandard(_ context.Context, r ComputeStandardRequestObject) (ComputeStandardResponseObject, error) {
	answer, err := computeStandard(*r.Body)
	return ComputeStandard200JSONResponse(answer), err
}
