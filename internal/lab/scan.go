package lab

import (
	"encoding/json"

	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/run"
	"vialbench/core/scan"
	"vialbench/core/spectrum"
	"vialbench/core/verdict"
)

func init() {
	register(kind{
		name: scan.Kind, place: 61, rules: photometry.Rules, ask: askScan,
		computations: map[string]computation{
			"scan": computes(photometry.Scan), "spectrum": computes(readSpectrum), "standard-additions": computes(photometry.Additions),
			"overlay": computes(spectrum.Overlay),
		},
	})
}

// scanQuestion asks for a scan: at wavelengths by hand, or of a spectrum.
type scanQuestion struct {
	Name        string    `json:"name"`
	Wavelengths []float64 `json:"wavelengths"`
	// Spread is from where to where they go instead, and how far apart.
	Spread *spreadQuestion `json:"spread"`
	X      []float64       `json:"x"`
	Y      []float64       `json:"y"`
	From   string          `json:"from"`
	// Photometer that it is read with, by its ID; empty where that is not put on record.
	Photometer string  `json:"photometer"`
	Low        float64 `json:"low"`
	High       float64 `json:"high"`
}

type spreadQuestion struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
	Step float64 `json:"step"`
}

// askScan takes the rules from the lab.
func askScan(question json.RawMessage, own *owned) (run.Plan, error) {
	var q scanQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	r := scan.Request{
		Name: q.Name, Wavelengths: q.Wavelengths, X: q.X, Y: q.Y, From: q.From, Low: q.Low, High: q.High, Thresholds: own.settings.Thresholds,
	}
	var err error
	if r.Photometer, err = own.photometer(q.Photometer); err != nil {
		return nil, err
	}
	if s := q.Spread; s != nil {
		if r.Wavelengths, err = scan.Spread(s.From, s.To, s.Step); err != nil {
			return nil, at("/spread", err)
		}
	}
	if len(r.X) > 0 {
		r.Wavelengths = []float64{}
	}
	_, err = r.Design()
	return r, err
}

// SpectrumQuestion is a file of spectra, or spectra that a file is made of.
type SpectrumQuestion struct {
	// Text is a file to read: JCAMP-DX or CSV.
	Text string `json:"text"`
	// Most is how many points of a spectrum are answered at most; 0 of all.
	Most int `json:"most"`
	// Write is the form of the file that comes back: “affn”, “difdup” or “csv”; empty of none. Spectra go into it where no Text is read.
	Write   string              `json:"write"`
	Spectra []spectrum.Spectrum `json:"spectra"`
}

// SpectrumAnswer is what a file contains, as absorbances, and the file that was asked for.
type SpectrumAnswer struct {
	Spectra []spectrum.Spectrum `json:"spectra"`
	Text    string              `json:"text,omitempty"`
}

func readSpectrum(q SpectrumQuestion) (SpectrumAnswer, error) {
	var p verdict.Problems
	a := SpectrumAnswer{Spectra: q.Spectra}
	if q.Text != "" {
		list, err := spectrum.Read(q.Text)
		if err != nil {
			p.Add("/text", "%s", err)
			return a, p
		}
		a.Spectra = list
	}
	if len(a.Spectra) == 0 {
		p.Add("/text", "there is no file to read, and no spectrum to write")
		return a, p
	}
	for _, s := range a.Spectra {
		if len(s.X) != len(s.Y) || len(s.X) < 2 || len(s.X) > spectrum.MaxPoints {
			p.Add("/spectra", "a spectrum has 2 to %d wavelengths, and an ordinate for each", spectrum.MaxPoints)
			return a, p
		}
	}
	switch q.Write {
	case "":
	case "csv":
		a.Text = a.Spectra[0].CSV()
	case spectrum.AFFN, spectrum.DIFDUP:
		a.Text = spectrum.JCAMP(a.Spectra, q.Write)
	default:
		p.Add("/write", "a file is written as affn, difdup or csv")
		return a, p
	}
	for i, s := range a.Spectra {
		s = s.Absorbances()
		if q.Most > 0 {
			s = s.Thinned(q.Most)
		}
		a.Spectra[i] = s
	}
	return a, nil
}
