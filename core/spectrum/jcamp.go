package spectrum

import (
	"math"
	"strconv"
	"strings"
)

// record is a labelled data record: its label as it is compared, its value, the line where it begins, and the lines that
// follow it.
type record struct {
	label, value string
	line         int
	more         []dataLine
}

// dataLine is a line of a file with its number.
type dataLine struct {
	text string
	line int
}

// records parts a file. Comments ($$) are dropped.
func records(text string) ([]record, error) {
	var list []record
	i := 0
	for line := range strings.SplitSeq(text, "\n") {
		i++
		line, _, _ = strings.Cut(line, "$$")
		line = strings.TrimRight(line, " \t\r")
		if rest, ok := strings.CutPrefix(strings.TrimLeft(line, " \t"), "##"); ok {
			label, value, found := strings.Cut(rest, "=")
			if !found {
				return nil, wrong(i, "“##%s” has no equals sign", clip(rest))
			}
			list = append(list, record{label: plainLabel(label), value: strings.TrimSpace(value), line: i})
		} else if len(list) > 0 && line != "" {
			last := &list[len(list)-1]
			last.more = append(last.more, dataLine{line, i})
		}
	}
	return list, nil
}

var labelSigns = strings.NewReplacer(" ", "", "-", "", "/", "", "_", "")

// plainLabel drops what labels are compared without.
func plainLabel(label string) string { return labelSigns.Replace(strings.ToUpper(label)) }

// block is a spectrum while it is read.
type block struct {
	Spectrum
	values map[string]record
	begun  int
	isLink bool
	filled bool
}

func readJCAMP(text string) ([]Spectrum, error) {
	all, err := records(text)
	if err != nil {
		return nil, err
	}
	var open []*block
	var list []Spectrum
	points := 0
	for _, r := range all {
		if r.label == "TITLE" {
			if len(open) >= 4 || len(list) >= maxBlocks {
				return nil, wrong(r.line, "blocks within blocks: at most %d spectra are read from one file", maxBlocks)
			}
			open = append(open, &block{Spectrum: Spectrum{Title: r.value}, values: map[string]record{}, begun: r.line})
			continue
		}
		if len(open) == 0 {
			return nil, wrong(r.line, "a file begins with ##TITLE=, and ##%s stands before it", clip(r.label))
		}
		b := open[len(open)-1]
		switch r.label {
		case "END":
			open = open[:len(open)-1]
			if b.isLink {
				continue
			}
			if !b.filled {
				return nil, wrong(r.line, "“%s” has no data: ##XYDATA= or ##XYPOINTS= is missing", clip(b.Title))
			}
			if points += len(b.X); points > MaxPoints {
				return nil, wrong(r.line, "a file has at most %d points", MaxPoints)
			}
			list = append(list, b.Spectrum)
		case "DATATYPE":
			b.isLink = strings.EqualFold(r.value, "LINK")
		case "XYDATA", "XYPOINTS":
			if err := b.read(r); err != nil {
				return nil, err
			}
		default:
			b.values[r.label] = r
		}
	}
	switch {
	case len(open) > 0:
		return nil, wrong(open[len(open)-1].begun, "this block has no ##END=")
	case len(list) == 0:
		return nil, wrong(1, "there is no spectrum in this file")
	}
	return list, nil
}

// read fills in the data of a block.
func (b *block) read(r record) (err error) {
	form := strings.ReplaceAll(r.value, " ", "")
	switch {
	case r.label == "XYDATA" && form == "(X++(Y..Y))":
		err = b.readOrdinates(r)
	case r.label == "XYPOINTS" && form == "(XY..XY)":
		err = b.readPairs(r)
	default:
		err = wrong(r.line, "data are told as (X++(Y..Y)) or (XY..XY), and this is %s", clip(form))
	}
	if err != nil {
		return err
	}
	b.filled = true
	if err := b.inUnits(r.line); err != nil {
		return err
	}
	end := r.line
	if n := len(r.more); n > 0 {
		end = r.more[n-1].line
	}
	if want, ok, err := b.number("NPOINTS"); err != nil {
		return err
	} else if ok && want != float64(len(b.X)) {
		return wrong(b.values["NPOINTS"].line, "##NPOINTS= says %g, and there are %d", want, len(b.X))
	}
	return b.check(end)
}

// inUnits brings wavelengths to nm and transmittances to %.
func (b *block) inUnits(line int) error {
	if text := strings.ToUpper(b.values["XUNITS"].value); text != "" {
		switch text {
		case "NANOMETERS", "NANOMETRES", "NM":
			b.XUnit = "nm"
		case "MICROMETERS":
			b.XUnit = "nm"
			for i := range b.X {
				b.X[i] *= 1000
			}
		case "1/CM":
			b.XUnit = "nm"
			for i, x := range b.X {
				if x == 0 {
					return wrong(line, "a wavenumber of 0 has no wavelength")
				}
				b.X[i] = 1e7 / x
			}
		default:
			return wrong(b.values["XUNITS"].line, "wavelengths are in NANOMETERS, MICROMETERS or 1/CM, not in %s", clip(text))
		}
	}
	switch text := strings.ToUpper(b.values["YUNITS"].value); text {
	case "", "ABSORBANCE", "A", "AU":
	case "TRANSMITTANCE", "PERCENT TRANSMITTANCE", "% TRANSMITTANCE", "%T":
		b.YUnit = TransmittanceUnit
		if text == "TRANSMITTANCE" && largest(b.Y) <= 1.5 { // a part of 1, as it should be; many write % under this name
			for i := range b.Y {
				b.Y[i] *= 100
			}
		}
	default:
		return wrong(b.values["YUNITS"].line, "ordinates are ABSORBANCE or TRANSMITTANCE, not %s", clip(text))
	}
	return nil
}

func largest(list []float64) float64 {
	most := math.Inf(-1)
	for _, y := range list {
		most = max(most, y)
	}
	return most
}

// number is the value of a label; ok is false where it does not stand.
func (b *block) number(label string) (value float64, ok bool, err error) {
	r, ok := b.values[label]
	if !ok {
		return 0, false, nil
	}
	value, err = strconv.ParseFloat(strings.TrimSpace(r.value), 64)
	if err != nil || math.IsNaN(value) || math.IsInf(value, 0) {
		return 0, true, wrong(r.line, "##%s=%s is no number", label, clip(r.value))
	}
	return value, true, nil
}

// factors are XFACTOR and YFACTOR, 1 where they do not stand.
func (b *block) factors() (x, y float64, err error) {
	x, okX, err := b.number("XFACTOR")
	if err != nil {
		return 0, 0, err
	}
	y, okY, err := b.number("YFACTOR")
	if !okX {
		x = 1
	}
	if !okY {
		y = 1
	}
	return x, y, err
}

func (b *block) readPairs(r record) error {
	fx, fy, err := b.factors()
	if err != nil {
		return err
	}
	for _, l := range r.more {
		cells := strings.FieldsFunc(l.text, func(r rune) bool { return r == ' ' || r == ',' || r == ';' || r == '\t' })
		if len(cells)%2 != 0 {
			return wrong(l.line, "pairs are needed, and this line has %d numbers", len(cells))
		}
		for k := 0; k < len(cells); k += 2 {
			x, err1 := strconv.ParseFloat(cells[k], 64)
			y, err2 := strconv.ParseFloat(cells[k+1], 64)
			if err1 != nil || err2 != nil {
				return wrong(l.line, "“%s %s” is no pair of numbers", clip(cells[k]), clip(cells[k+1]))
			}
			if len(b.X) == MaxPoints {
				return wrong(l.line, "a file has at most %d points", MaxPoints)
			}
			b.X, b.Y = append(b.X, x*fx), append(b.Y, y*fy)
		}
	}
	return nil
}

// readOrdinates reads (X++(Y..Y)): abscissas follow from FIRSTX, LASTX and NPOINTS, and are checked by those of the lines.
func (b *block) readOrdinates(r record) error {
	fx, fy, err := b.factors()
	if err != nil {
		return err
	}
	first, ok1, err1 := b.number("FIRSTX")
	last, ok2, err2 := b.number("LASTX")
	if err := firstOf(err1, err2); err != nil {
		return err
	}
	if !ok1 || !ok2 {
		return wrong(r.line, "##FIRSTX= and ##LASTX= stand before the data")
	}
	var d asdf
	type begin struct {
		x     float64
		place int
		line  int
	}
	var begins []begin
	for _, l := range r.more {
		x, err := d.line(l.text, l.line)
		if err != nil {
			return err
		}
		begins = append(begins, begin{x * fx, d.at, l.line})
	}
	n := len(d.values)
	if n < 2 {
		return wrong(r.line, "a spectrum has at least two points, and this one has %d", n)
	}
	step := (last - first) / float64(n-1)
	for _, at := range begins {
		if want := first + float64(at.place)*step; math.Abs(at.x-want) > 0.6*math.Abs(step)+1e-9*math.Abs(want) {
			return wrong(at.line, "this line begins at %g, and by the points before it should begin at %g: a line is missing or has too many points", at.x, want)
		}
	}
	b.X, b.Y = make([]float64, n), make([]float64, n)
	for i, y := range d.values {
		b.X[i], b.Y[i] = first+float64(i)*step, y*fy
	}
	if want, ok, err := b.number("FIRSTY"); err != nil {
		return err
	} else if ok && math.Abs(want-b.Y[0]) > 1e-3*math.Abs(want)+0.6*math.Abs(fy) {
		return wrong(b.values["FIRSTY"].line, "##FIRSTY= says %g, and the data begin with %g", want, b.Y[0])
	}
	return nil
}

func firstOf(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}
