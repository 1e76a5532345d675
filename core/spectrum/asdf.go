package spectrum

import (
	"math"
	"strconv"
	"strings"
)

// asdf reads the lines of (X++(Y..Y)), in whichever form.
type asdf struct {
	values     []float64
	at         int // place of the first ordinate of the line that was read last
	difference bool
	delta      float64
}

// The letters that stand for the first digit of a number.
const (
	squeezed     = "@ABCDEFGHI" // +0 … +9
	squeezedLess = "abcdefghi"  // −1 … −9
	differs      = "%JKLMNOPQR" // +0 … +9
	differsLess  = "jklmnopqr"  // −1 … −9
	repeats      = "STUVWXYZs"  // 1 … 9
)

// line reads one line and returns its abscissa.
func (d *asdf) line(text string, line int) (x float64, err error) {
	rest := strings.TrimLeft(text, " \t")
	token, rest := plain(rest)
	if x, err = strconv.ParseFloat(token, 64); err != nil {
		return 0, wrong(line, "a line of data begins with its wavelength, not with “%s”", clip(rest))
	}
	checks := d.difference && len(d.values) > 0 // its first ordinate is the last one once more
	d.difference = false
	d.at = len(d.values)
	if checks {
		d.at--
	}
	for begun := false; ; begun = true {
		rest = strings.TrimLeft(rest, " \t,;")
		if rest == "" {
			return x, nil
		}
		var item byte
		item, token, rest = next(rest)
		value, err := strconv.ParseFloat(token, 64)
		if err != nil || math.IsNaN(value) || math.IsInf(value, 0) {
			return 0, wrong(line, "“%s” is no number of data", clip(token+rest))
		}
		if checks && !begun {
			err = d.check(item, value, line)
		} else {
			err = d.take(item, value, line)
		}
		if err != nil {
			return 0, err
		}
	}
}

// check compares the first ordinate of a line with the last one of the line before.
func (d *asdf) check(item byte, value float64, line int) error {
	if item != 'y' {
		return wrong(line, "after differences a line begins with the last ordinate once more, as a whole number")
	}
	if last := d.values[len(d.values)-1]; math.Abs(value-last) > 1e-9*math.Abs(last)+1e-9 {
		return wrong(line, "the check does not fit: the line before ends with %g, and this one begins with %g", last, value)
	}
	return nil
}

// take takes an ordinate, a difference or a repetition.
func (d *asdf) take(item byte, value float64, line int) error {
	switch {
	case item == 'y':
		d.difference = false
		return d.add(value, line)
	case len(d.values) == 0:
		return wrong(line, "data begin with an ordinate, not with a difference or a repetition")
	case item == 'd':
		d.difference, d.delta = true, value
		return d.add(d.values[len(d.values)-1]+value, line)
	}
	for range int(value) - 1 { // so many times in all
		following := d.values[len(d.values)-1]
		if d.difference {
			following += d.delta
		}
		if err := d.add(following, line); err != nil {
			return err
		}
	}
	return nil
}

func (d *asdf) add(value float64, line int) error {
	if len(d.values) >= MaxPoints {
		return wrong(line, "a file has at most %d points", MaxPoints)
	}
	d.values = append(d.values, value)
	return nil
}

// plain parts a number off: digits, point, sign in front, and an exponent.
func plain(text string) (token, rest string) {
	i := 0
	if i < len(text) && (text[i] == '+' || text[i] == '-') {
		i++
	}
	for i < len(text) && (text[i] >= '0' && text[i] <= '9' || text[i] == '.') {
		i++
	}
	// E with a sign is an exponent where digits stand before it; alone it is a squeezed 5.
	if i > 0 && i+2 < len(text) && (text[i] == 'E' || text[i] == 'e') && (text[i+1] == '+' || text[i+1] == '-') && text[i+2] >= '0' && text[i+2] <= '9' {
		for i += 2; i < len(text) && text[i] >= '0' && text[i] <= '9'; {
			i++
		}
	}
	return text[:i], text[i:]
}

// compressed are the letters that stand for a first digit with its sign: what item they begin, and as what number.
var compressed = func() (of [256]struct {
	item  byte
	digit string
},
) {
	for _, x := range []struct {
		letters, sign string
		first         int
		item          byte
	}{
		{squeezed, "", 0, 'y'}, {squeezedLess, "-", 1, 'y'}, {differs, "", 0, 'd'}, {differsLess, "-", 1, 'd'}, {repeats, "", 1, 'r'},
	} {
		for i, letter := range []byte(x.letters) {
			of[letter].item, of[letter].digit = x.item, x.sign+strconv.Itoa(x.first+i)
		}
	}
	return of
}()

// next parts an item off: an ordinate (y), a difference (d) or a repetition (r), as a plain number.
func next(text string) (item byte, token, rest string) {
	of := compressed[text[0]]
	if of.item == 0 {
		token, rest = plain(text)
		return 'y', token, rest
	}
	end := 1
	for end < len(text) && (text[end] >= '0' && text[end] <= '9' || text[end] == '.') {
		end++
	}
	return of.item, of.digit + text[1:end], text[end:]
}
