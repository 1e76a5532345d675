package spectrum

import (
	"math"
	"strconv"
	"strings"
)

// readCSV reads two columns.
func readCSV(text string) (Spectrum, error) {
	s := Spectrum{X: []float64{}, Y: []float64{}}
	divider := ""
	last := 0
	for i, line := range strings.Split(text, "\n") {
		line = strings.TrimSpace(line)
		if line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		last = i + 1
		if divider == "" {
			divider = dividerOf(line)
		}
		cells := strings.Split(line, divider)
		if len(cells) < 2 {
			return s, wrong(i+1, "two columns are needed, wavelength and absorbance, divided by comma, semicolon or tab")
		}
		x, err1 := number(cells[0], divider)
		y, err2 := number(cells[1], divider)
		switch {
		case err1 == nil && err2 == nil:
			if len(s.X) == MaxPoints {
				return s, wrong(i+1, "a file has at most %d points", MaxPoints)
			}
			s.X, s.Y = append(s.X, x), append(s.Y, y)
		case len(s.X) == 0 && err1 != nil && err2 != nil: // its head
			s.YUnit = headUnit(cells[1])
			divider = ""
		case err1 != nil:
			return s, wrong(i+1, "“%s” is no wavelength", clip(cells[0]))
		default:
			return s, wrong(i+1, "“%s” is no absorbance", clip(cells[1]))
		}
	}
	return s, s.check(max(1, last))
}

func dividerOf(line string) string {
	for _, d := range []string{"\t", ";"} {
		if strings.Contains(line, d) {
			return d
		}
	}
	return ","
}

// number reads one; a comma is a decimal comma where something else divides.
func number(cell, divider string) (float64, error) {
	cell = strings.Trim(strings.TrimSpace(cell), `"`)
	if divider != "," {
		cell = strings.Replace(cell, ",", ".", 1)
	}
	cell = strings.ReplaceAll(cell, "−", "-")
	x, err := strconv.ParseFloat(cell, 64)
	if err == nil && (math.IsNaN(x) || math.IsInf(x, 0)) {
		err = strconv.ErrSyntax
	}
	return x, err
}

// headUnit is what a head says of the ordinates.
func headUnit(head string) string {
	head = strings.ToLower(head)
	if strings.Contains(head, "%t") || strings.Contains(head, "% t") || strings.Contains(head, "transmit") {
		return TransmittanceUnit
	}
	return ""
}

func clip(text string) string {
	if runes := []rune(text); len(runes) > 30 {
		return string(runes[:30]) + "…"
	}
	return text
}

// CSV writes a spectrum as two columns with a head.
func (s Spectrum) CSV() string {
	var b strings.Builder
	b.WriteString("wavelength (" + s.XUnit + ")," + s.YUnit + "\n")
	for i, x := range s.X {
		b.WriteString(strconv.FormatFloat(x, 'g', -1, 64) + "," + strconv.FormatFloat(s.Y[i], 'g', -1, 64) + "\n")
	}
	return b.String()
}
