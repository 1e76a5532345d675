// Package spectrum reads and writes spectra in open forms: JCAMP-DX and CSV.
//
// # JCAMP-DX
//
// Labelled data records, ##LABEL=value, of a spectrum or of several in a LINK block. Ordinates of ##XYDATA=(X++(Y..Y)) stand in
// lines that begin with their abscissa, as integers times ##YFACTOR: free (AFFN) or packed with signs (PAC), with the first
// digit and the sign as one letter (SQZ), as differences from the one before (DIF), and repeated (DUP). After a line of
// differences the next one begins with its last ordinate once more: a check. ##XYPOINTS=(XY..XY) are pairs.
//
// Written are AFFN and DIFDUP, JCAMP-DX 4.24, with points evenly spaced; others as pairs.
//
// # CSV
//
// Two columns, wavelength and ordinate, divided by comma, semicolon or tab, with or without a head. A comma is a decimal
// comma where semicolons or tabs divide.
//
// Sources: R. S. McDonald and P. A. Wilks, Appl. Spectrosc. 42 (1988) 151 (JCAMP-DX 4.24); P. Lampen et al., Pure Appl. Chem.
// 71 (1999) 1549 (5.01); both from memory.
package spectrum

import (
	"fmt"
	"math"
	"strings"
)

// Spectrum is a list of ordinates over wavelengths.
type Spectrum struct {
	Title string `json:"title"`
	// X are wavelengths in XUnit, Y ordinates in YUnit; XUnit is “nm” where the file does not say, YUnit “absorbance” or “%T”.
	XUnit string    `json:"xUnit"`
	YUnit string    `json:"yUnit"`
	X     []float64 `json:"x"`
	Y     []float64 `json:"y"`
}

// The units that ordinates are told in.
const (
	AbsorbanceUnit    = "absorbance"
	TransmittanceUnit = "%T"
)

// The bounds of a file.
const (
	MaxBytes  = 8 << 20
	MaxPoints = 100_000 // of all its spectra
	maxBlocks = 64
)

// Error names the line of a file that cannot be read.
type Error struct {
	Line   int // from 1
	Reason string
}

func (e *Error) Error() string { return fmt.Sprintf("line %d: %s", e.Line, e.Reason) }

func wrong(line int, reason string, args ...any) error {
	return &Error{line, fmt.Sprintf(reason, args...)}
}

// Read reads a file in either form. An error is an [*Error].
func Read(text string) ([]Spectrum, error) {
	if len(text) > MaxBytes {
		return nil, wrong(1, "this file is larger than %d MB: take fewer points", MaxBytes>>20)
	}
	text = strings.TrimPrefix(text, "\ufeff")
	if strings.HasPrefix(strings.TrimSpace(text), "##") {
		return readJCAMP(text)
	}
	s, err := readCSV(text)
	if err != nil {
		return nil, err
	}
	return []Spectrum{s}, nil
}

// check refuses what is no spectrum, at the line where it ended.
func (s *Spectrum) check(line int) error {
	if len(s.X) < 2 {
		return wrong(line, "a spectrum has at least two points, and this one has %d", len(s.X))
	}
	for i, x := range s.X {
		if math.IsNaN(x) || math.IsInf(x, 0) || math.IsNaN(s.Y[i]) || math.IsInf(s.Y[i], 0) {
			return wrong(line, "point %d is no number", i+1)
		}
	}
	if s.XUnit == "" {
		s.XUnit = "nm"
	}
	if s.YUnit == "" {
		s.YUnit = AbsorbanceUnit
	}
	return nil
}

// step is the spacing of the points where they are evenly spaced; ok is false where they are not.
func (s Spectrum) step() (step float64, ok bool) {
	n := len(s.X)
	if n < 2 {
		return 0, false
	}
	step = (s.X[n-1] - s.X[0]) / float64(n-1)
	for i, x := range s.X {
		if math.Abs(x-s.X[0]-float64(i)*step) > 1e-6*math.Abs(step) {
			return 0, false
		}
	}
	return step, step != 0
}

// Absorbances returns the spectrum with its ordinates as absorbances. A transmittance of 0 has none: it counts as 5.
func (s Spectrum) Absorbances() Spectrum {
	if s.YUnit != TransmittanceUnit {
		return s
	}
	t := s
	t.YUnit, t.Y = AbsorbanceUnit, make([]float64, len(s.Y))
	for i, y := range s.Y {
		t.Y[i] = min(5, 2-math.Log10(max(y, 1e-3)))
	}
	return t
}

// Thinned returns the spectrum with at most so many of its points, every second or third of them.
func (s Spectrum) Thinned(most int) Spectrum {
	every := (len(s.X) + most - 1) / max(1, most)
	if every < 2 {
		return s
	}
	t := s
	t.X, t.Y = nil, nil
	for i := 0; i < len(s.X); i += every {
		t.X, t.Y = append(t.X, s.X[i]), append(t.Y, s.Y[i])
	}
	return t
}
