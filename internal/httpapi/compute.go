package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"sort"
	"strings"

	"vialbench/core/dilution"
	"vialbench/core/figure"
	"vialbench/core/formula"
	"vialbench/core/quantity"
	"vialbench/core/solution"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

// The computations are stateless: the same bodies go through the API and through
// the command line.

// computations are the operations of POST /compute/… and of vialbench compute.
var computations = map[string]func(body []byte) (any, error){
	"formula":  computation(computeFormula),
	"quantity": computation(computeQuantity),
	"standard": computation(computeStandard),
	"dilution": computation(dilution.Design),
	"back":     computation(computeBack),
	"step":     computation(computeStep),
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
	read, err := quantity.ParseAny(q.Text, dimensions, given(q.Unit))
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

func computeStep(s dilution.Step) (dilution.Step, error) {
	solved, err := s.Solve()
	if err != nil {
		return solved, verdict.Problems{{Field: "", Reason: err.Error()}}
	}
	return solved, nil
}

func computeBack(q BackQuestion) (figure.Figure, error) {
	if !(q.Value > 0) || !(q.Limits >= 0) {
		return figure.Figure{}, verdict.Problems{{Field: "/value", Reason: "what was measured is above zero, and its uncertainty zero or more"}}
	}
	measured := uncertain.New(q.Value, q.Limits/uncertain.Coverage, uncertain.Source{ID: "measured", Label: "the measurement", Basis: "as stated, k = 2"})
	back, err := dilution.Back(q.Request, q.Tube, measured)
	return figure.New("back", "undiluted", q.Request.Stock.Unit, back), err
}

// standardRequest reads the quantities of a question.
func standardRequest(q StandardQuestion) (solution.Request, error) {
	var p verdict.Problems
	first := SoluteQuestion{Substance: q.Substance, AssayPercent: q.AssayPercent, AssayLimitsPercent: q.AssayLimitsPercent, DryingLossPercent: q.DryingLossPercent,
		Concentration: q.Concentration, Of: q.Of, Waters: q.Waters, EquivalentCount: q.EquivalentCount, Reaction: q.Reaction, LiquidDensity: q.LiquidDensity,
		StatedMolarity: q.StatedMolarity, StatedMolarityLimits: q.StatedMolarityLimits}
	r := solution.Request{Solute: solute(first, "", &p), FlaskClass: q.FlaskClass, Band: q.BandPercent / 100, Wanted: given(q.WantedPercent) / 100,
		Balance: q.Balance, WaterTemperature: q.WaterTemperature, Dispense: given(q.Dispense), MakeUp: given(q.MakeUp), Glass: given(q.Glass), Balances: given(q.Balances),
		InBatches: given(q.InBatches), SolutionDensity: given(q.SolutionDensity), SolutionDensityLimits: given(q.SolutionDensityLimits),
		Buoyancy: given(q.Buoyancy), Thresholds: given(q.Thresholds)}
	for i, s := range given(q.Also) {
		r.Also = append(r.Also, solute(s, fmt.Sprintf("/also/%d", i), &p))
	}
	r.Volume = *readQuantity(&q.Volume, "/volume", &p, quantity.Volume)
	return r, p.OrNil()
}

// solute reads one solute, which stands at a JSON pointer.
func solute(q SoluteQuestion, at string, p *verdict.Problems) solution.Solute {
	return solution.Solute{Substance: q.Substance, Assay: q.AssayPercent / 100, AssayLimits: given(q.AssayLimitsPercent) / 100, DryingLoss: given(q.DryingLossPercent) / 100,
		Waters: q.Waters, Concentration: *readQuantity(&q.Concentration, at+"/concentration", p, solution.Bases()...), Of: given(q.Of),
		EquivalentCount: given(q.EquivalentCount), Reaction: given(q.Reaction), LiquidDensity: given(q.LiquidDensity),
		StatedMolarity: given(q.StatedMolarity), StatedMolarityLimits: given(q.StatedMolarityLimits)}
}

// given returns what an optional field says, and its zero value when it is left out.
func given[T any](field *T) T {
	if field == nil {
		var zero T
		return zero
	}
	return *field
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
		read, err := quantity.ParseAny(given(in.Text), dimensions, given(in.Unit))
		if err != nil {
			p.Add(field, "%s", err)
			return &out
		}
		return &read
	}
	unit, err := quantity.FindUnit(given(in.Unit))
	if err != nil {
		p.Add(field, "%s", err)
		return &out
	}
	out.Value, out.Unit = *in.Value, unit
	return &out
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

// ComputeDilution implements StrictServerInterface.
func (s *Server) ComputeDilution(_ context.Context, r ComputeDilutionRequestObject) (ComputeDilutionResponseObject, error) {
	answer, err := dilution.Design(*r.Body)
	return ComputeDilution200JSONResponse(answer), err
}

// ExplainDilution implements StrictServerInterface.
func (s *Server) ExplainDilution(_ context.Context, r ExplainDilutionRequestObject) (ExplainDilutionResponseObject, error) {
	lines, err := dilution.Explain(r.Body.Request, r.Body.Tube)
	return ExplainDilution200JSONResponse(lines), err
}

// ComputeStep implements StrictServerInterface.
func (s *Server) ComputeStep(_ context.Context, r ComputeStepRequestObject) (ComputeStepResponseObject, error) {
	answer, err := computeStep(*r.Body)
	return ComputeStep200JSONResponse(answer), err
}

// ComputeBack implements StrictServerInterface.
func (s *Server) ComputeBack(_ context.Context, r ComputeBackRequestObject) (ComputeBackResponseObject, error) {
	answer, err := computeBack(*r.Body)
	return ComputeBack200JSONResponse(answer), err
}

// ComputeStandard implements StrictServerInterface.
func (s *Server) ComputeStandard(_ context.Context, r ComputeStandardRequestObject) (ComputeStandardResponseObject, error) {
	answer, err := computeStandard(*r.Body)
	return ComputeStandard200JSONResponse(answer), err
}
