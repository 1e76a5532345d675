package lab

import (
	"encoding/json"
	"fmt"
	"strconv"

	"vialbench/core/mixture"
	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/verdict"
)

func init() {
	register(kind{
		name: mixture.Kind, place: 62, rules: photometry.Rules, ask: askMixture,
		computations: map[string]computation{"mixture": computes(photometry.Mixture)},
	})
}

// mixtureQuestion asks for two substances in samples.
type mixtureQuestion struct {
	// Lines are the runs whose lines are read from: of the first substance at the first wavelength and at the second, then of the second.
	Lines      []string        `json:"lines"`
	Samples    []mixtureSample `json:"samples"`
	Replicates int             `json:"replicates"`
	// Photometer that it is read with, by its ID; empty where that is not put on record.
	Photometer string `json:"photometer"`
}

type mixtureSample struct {
	Name    string  `json:"name"`
	Diluted float64 `json:"diluted"`
}

// askMixture takes lines and rules from the lab.
func askMixture(question json.RawMessage, own *owned) (run.Plan, error) {
	var q mixtureQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	if len(q.Lines) != 4 {
		return nil, verdict.Problems{{Field: "/lines", Reason: "each of the two substances has a line at both wavelengths"}}
	}
	r := mixture.Request{
		Substances: make([]mixture.Substance, 2), Wavelengths: make([]float64, 2), Samples: []mixture.Sample{}, Replicates: q.Replicates,
		Thresholds: own.settings.Thresholds,
	}
	for i, id := range q.Lines {
		field := "/lines/" + strconv.Itoa(i)
		line, err := own.pastLine(id, field)
		if err != nil {
			return nil, err
		}
		is, s, nm := line.Plan, &r.Substances[i/2], &r.Wavelengths[i%2]
		if i == 0 {
			r.Path = is.Path
		}
		if i < 2 {
			*nm = is.Wavelength
		}
		if i%2 == 0 {
			s.Name, s.Unit = is.Substance, is.Unit
		}
		differs := ""
		switch {
		case is.Wavelength != *nm:
			differs = fmt.Sprintf("was read at %g nm, and the first substance at %g nm", is.Wavelength, *nm)
		case is.Substance != s.Name || is.Unit != s.Unit:
			differs = fmt.Sprintf("is of %s in %s, and that beside it of %s in %s", is.Substance, is.Unit, s.Name, s.Unit)
		case is.Path != r.Path:
			differs = fmt.Sprintf("was read through %g mm, and the first one through %g mm", is.Path, r.Path)
		}
		if differs != "" {
			return nil, verdict.Problems{{Field: field, Reason: fmt.Sprintf("the line of run %d %s", line.Run.Number, differs)}}
		}
		s.Lines = append(s.Lines, mixture.Line{Run: line.Run.ID, Number: line.Run.Number, Line: line.line})
	}
	for _, s := range q.Samples {
		r.Samples = append(r.Samples, mixture.Sample(s))
	}
	var err error
	if r.Photometer, err = own.photometer(q.Photometer); err != nil {
		return nil, err
	}
	_, err = r.Design()
	return r, err
}
