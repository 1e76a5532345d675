package spectrum

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// The forms that JCAMP-DX is written in.
const (
	AFFN   = "affn"
	DIFDUP = "difdup"
)

const (
	lineLength = 78
	// digits that an ordinate has at most: what a 32 bit integer holds.
	digits = 9
)

// JCAMP writes spectra as JCAMP-DX 4.24, several in a LINK block.
func JCAMP(list []Spectrum, form string) string {
	var b strings.Builder
	if len(list) > 1 {
		fmt.Fprintf(&b, "##TITLE=Spectra\n##JCAMP-DX=4.24\n##DATA TYPE=LINK\n##BLOCKS=%d\n", len(list))
	}
	for _, s := range list {
		s.write(&b, form)
	}
	if len(list) > 1 {
		b.WriteString("##END=\n")
	}
	return b.String()
}

func (s Spectrum) write(b *strings.Builder, form string) {
	y := "ABSORBANCE"
	if s.YUnit == TransmittanceUnit {
		y = "PERCENT TRANSMITTANCE"
	}
	title := strings.Join(strings.Fields(strings.NewReplacer("$$", "", "##", "").Replace(s.Title)), " ")
	fmt.Fprintf(b, "##TITLE=%s\n##JCAMP-DX=4.24\n##DATA TYPE=UV/VIS SPECTRUM\n##XUNITS=NANOMETERS\n##YUNITS=%s\n", title, y)
	n := len(s.X)
	if _, even := s.step(); !even {
		fmt.Fprintf(b, "##NPOINTS=%d\n##XYPOINTS=(XY..XY)\n", n)
		for i, x := range s.X {
			fmt.Fprintf(b, "%s, %s\n", exact(x), exact(s.Y[i]))
		}
		b.WriteString("##END=\n")
		return
	}
	most := 0.0
	for _, y := range s.Y {
		most = max(most, math.Abs(y))
	}
	factor := 1.0
	if most > 0 {
		factor = math.Pow(10, math.Ceil(math.Log10(most))-digits)
	}
	fmt.Fprintf(b, "##XFACTOR=1\n##YFACTOR=%s\n##FIRSTX=%s\n##LASTX=%s\n##NPOINTS=%d\n##FIRSTY=%s\n##XYDATA=(X++(Y..Y))\n",
		exact(factor), exact(s.X[0]), exact(s.X[n-1]), n, exact(s.Y[0]))
	values := make([]int64, n)
	for i, y := range s.Y {
		values[i] = int64(math.Round(y / factor))
	}
	if form == DIFDUP {
		s.writeDifferences(b, values)
	} else {
		s.writeFree(b, values)
	}
	b.WriteString("##END=\n")
}

func exact(x float64) string { return strconv.FormatFloat(x, 'g', -1, 64) }

func (s Spectrum) writeFree(b *strings.Builder, values []int64) {
	for i := 0; i < len(values); {
		line := exact(s.X[i])
		for i < len(values) {
			next := " " + strconv.FormatInt(values[i], 10)
			if len(line)+len(next) > lineLength {
				break
			}
			line += next
			i++
		}
		b.WriteString(line + "\n")
	}
}

// writeDifferences writes each line as its first ordinate and differences, repeated ones once with their count. The last
// ordinate of a line begins the next one as a check, and stands alone in a line at the end.
func (s Spectrum) writeDifferences(b *strings.Builder, values []int64) {
	for i := 0; ; {
		line := exact(s.X[i]) + squeeze(values[i], squeezed, squeezedLess)
		for i+1 < len(values) {
			delta := values[i+1] - values[i]
			times := 1
			for i+1+times < len(values) && values[i+1+times]-values[i+times] == delta {
				times++
			}
			next := squeeze(delta, differs, differsLess)
			if times > 1 {
				next += count(times)
			}
			if len(line)+len(next) > lineLength {
				break
			}
			line += next
			i += times
		}
		b.WriteString(line + "\n")
		if i == len(values)-1 {
			if len(line) > len(exact(s.X[i])+squeeze(values[i], squeezed, squeezedLess)) { // it ended with a difference
				b.WriteString(exact(s.X[i]) + squeeze(values[i], squeezed, squeezedLess) + "\n")
			}
			return
		}
	}
}

// squeeze writes a number with its first digit and its sign as one letter.
func squeeze(v int64, letters, less string) string {
	text := strconv.FormatInt(max(v, -v), 10)
	if v < 0 {
		return string(less[text[0]-'1']) + text[1:]
	}
	return string(letters[text[0]-'0']) + text[1:]
}

// count writes how many times.
func count(n int) string {
	text := strconv.Itoa(n)
	return string(repeats[text[0]-'1']) + text[1:]
}
