package spectrum_test

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"vialbench/core/spectrum"
	"vialbench/core/verdict"
)

func read(t testing.TB, text string) spectrum.Spectrum {
	t.Helper()
	list, err := spectrum.Read(text)
	if err != nil || len(list) != 1 {
		t.Fatalf("%d spectra, %v, of\n%s", len(list), err, text)
	}
	return list[0]
}

// file is a JCAMP-DX file with some data of ten points.
func file(data string, labels ...string) string {
	return "##TITLE=ten\n##JCAMP-DX=4.24\n##DATA TYPE=UV/VIS SPECTRUM\n##XUNITS=NANOMETERS\n##YUNITS=ABSORBANCE\n##FIRSTX=400\n##LASTX=409\n" +
		strings.Join(labels, "\n") + "\n##NPOINTS=10\n##XYDATA=(X++(Y..Y))\n" + data + "\n##END=\n"
}

func Example() {
	list, err := spectrum.Read("wavelength (nm);A\n400;0,102\n410;0,118\n")
	fmt.Println(list, err)
	_, err = spectrum.Read("400,0.102\n410,dark\n")
	fmt.Println(err)
	// Output:
	// [{ nm absorbance [400 410] [0.102 0.118]}] <nil>
	// line 2: “dark” is no absorbance
}

// The same ten ordinates in every form, as the paper that describes them shows it (McDonald and Wilks, Appl. Spectrosc. 42
// (1988) 151, from memory).
func TestFormsOfThePaper(t *testing.T) {
	want := "[1 2 3 3 2 1 0 -1 -2 -3]"
	for form, data := range map[string]string{
		"AFFN": "400 1 2 3 3 2 1 0 -1 -2 -3", "PAC": "400+1+2+3+3+2+1+0-1-2-3", "SQZ": "400ABCCBA@abc", "SQZ, the first plain": "400 1BCCBA@abc",
		"DIF": "400 1JJ%jjjjjj", "DIFDUP": "400 1JT%jX", "AFFN with commas": "400, 1, 2, 3, 3, 2\n405, 1, 0, -1, -2, -3",
		"two lines": "400ABCCB\n405A@abc", "DIF in two lines": "400AJJ%j\n404Bjjjjj\n409c", "DUP of ordinates": "400ABCTBA@abc",
		"exponents": "400 1.0E+00 2.0E+00 3.0E+00 3.0 2 1 0 -1 -2 -3E+00", "with comments": "400 1JJ%jjjjjj $$ a bend",
	} {
		if s := read(t, file(data)); fmt.Sprint(s.Y) != want || s.X[0] != 400 || s.X[9] != 409 || s.Title != "ten" || s.YUnit != "absorbance" {
			t.Errorf("%s: %v", form, s)
		}
	}
	if s := read(t, file("4000ABCCBA@abc", "##XFACTOR=0.1", "##YFACTOR=0.01", "##FIRSTY=0.01")); math.Abs(s.Y[9]+0.03) > 1e-15 || s.X[5] != 405 {
		t.Errorf("%v", s)
	}
	// Numbers of several digits, by hand: 1234, +66 = 1300, +0 twice = 1300, −300 = 1000.
	long := strings.Replace(file("400A234O6%Tl00L00%jjj"), "ten", "long", 1)
	if s := read(t, long); fmt.Sprint(s.Y) != "[1234 1300 1300 1300 1000 1300 1300 1299 1298 1297]" {
		t.Errorf("%v", s.Y)
	}
}

func TestPairsUnitsAndBlocks(t *testing.T) {
	pairs := "##TITLE=pairs\n##JCAMP-DX=5.01\n##DATATYPE=UV-VIS SPECTRUM\n##XUNITS=1/CM\n##YUNITS=TRANSMITTANCE\n##NPOINTS=3\n##XYPOINTS=(XY..XY)\n" +
		"25000, 0.5 20000, 0.25\n16000, 0.1\n##END=\n"
	s := read(t, pairs)
	if fmt.Sprint(s.X) != "[400 500 625]" || fmt.Sprint(s.Y) != "[50 25 10]" || s.YUnit != "%T" || s.XUnit != "nm" {
		t.Errorf("%v", s)
	}
	percent := strings.NewReplacer("0.5", "50", "0.25", "25", "0.1", "10").Replace(pairs)
	if s := read(t, percent); fmt.Sprint(s.Y) != "[50 25 10]" {
		t.Errorf("%v", s.Y)
	}
	named := strings.Replace(pairs, "=TRANSMITTANCE", "=PERCENT TRANSMITTANCE", 1)
	if s := read(t, named); fmt.Sprint(s.Y) != "[0.5 0.25 0.1]" || s.YUnit != "%T" {
		t.Errorf("%v", s)
	}
	micro := strings.NewReplacer("1/CM", "MICROMETERS", "25000", "0.4", "20000", "0.5", "16000", "0.625").Replace(pairs)
	if s := read(t, micro); math.Abs(s.X[2]-625) > 1e-9 {
		t.Errorf("%v", s.X)
	}
	linked := "##TITLE=two\n##JCAMP-DX=4.24\n##DATA TYPE=LINK\n##BLOCKS=2\n" + file("400ABCCBA@abc") + pairs + "##END=\n"
	list, err := spectrum.Read(linked)
	if err != nil || len(list) != 2 || list[0].Title != "ten" || list[1].Title != "pairs" {
		t.Errorf("%v %v", list, err)
	}
}

// bent is a spectrum of so many points with a slope, a band and a flat part.
func bent(n int) spectrum.Spectrum {
	s := spectrum.Spectrum{Title: "Iron with $$ phenanthroline", XUnit: "nm", YUnit: "absorbance"}
	for i := range n {
		x := 350 + 400*float64(i)/float64(n-1)
		y := 0.7*math.Exp(-(x-510)*(x-510)/2000) - 0.002
		if x > 700 {
			y = -0.002
		}
		s.X, s.Y = append(s.X, x), append(s.Y, y)
	}
	return s
}

func TestRoundTrips(t *testing.T) {
	for _, n := range []int{2, 3, 81, 2001} {
		s := bent(n)
		for _, form := range []string{spectrum.AFFN, spectrum.DIFDUP} {
			text := spectrum.JCAMP([]spectrum.Spectrum{s}, form)
			back := read(t, text)
			if back.Title != "Iron with phenanthroline" || len(back.X) != n {
				t.Fatalf("%d points, %s: %q, %d", n, form, back.Title, len(back.X))
			}
			for i := range s.X {
				if math.Abs(back.X[i]-s.X[i]) > 1e-9*s.X[i] || math.Abs(back.Y[i]-s.Y[i]) > 1e-9 {
					t.Fatalf("%s, point %d: %g %g, was %g %g", form, i, back.X[i], back.Y[i], s.X[i], s.Y[i])
				}
			}
			for _, line := range strings.Split(text, "\n") {
				if len(line) > 80 {
					t.Errorf("a line of %d letters", len(line))
				}
			}
		}
	}
	uneven := spectrum.Spectrum{Title: "by hand", X: []float64{400, 420, 450}, Y: []float64{12.5, 30, 99.25}, YUnit: "%T"}
	text := spectrum.JCAMP([]spectrum.Spectrum{uneven, bent(5)}, spectrum.DIFDUP)
	list, err := spectrum.Read(text)
	if err != nil || len(list) != 2 || fmt.Sprintf("%v %v %s", list[0].X, list[0].Y, list[0].YUnit) != "[400 420 450] [12.5 30 99.25] %T" {
		t.Errorf("%v %v\n%s", list, err, text)
	}
	if s := read(t, uneven.CSV()); fmt.Sprintf("%v %v %s", s.X, s.Y, s.YUnit) != "[400 420 450] [12.5 30 99.25] %T" {
		t.Errorf("%v", s)
	}
	dark := spectrum.Spectrum{Title: "dark", X: []float64{400, 410, 420}, Y: []float64{0.5, 1.25, 0.75}, YUnit: "%T"}
	if s := read(t, spectrum.JCAMP([]spectrum.Spectrum{dark}, spectrum.AFFN)); fmt.Sprint(s.Y) != "[0.5 1.25 0.75]" || s.YUnit != "%T" {
		t.Errorf("%v", s)
	}
	short, long := len(spectrum.JCAMP([]spectrum.Spectrum{bent(2001)}, spectrum.DIFDUP)), len(spectrum.JCAMP([]spectrum.Spectrum{bent(2001)}, spectrum.AFFN))
	if float64(short) > 0.9*float64(long) {
		t.Errorf("differences take %d letters, free form %d", short, long)
	}
}

func TestCSV(t *testing.T) {
	for text, want := range map[string]string{
		"400,0.1\n410,0.2":                          "[400 410] [0.1 0.2] absorbance",
		"nm,%T\n400,80\n410,75\n":                   "[400 410] [80 75] %T",
		"Wellenlänge;A\r\n400,5;0,1\r\n410;0,2\r\n": "[400.5 410] [0.1 0.2] absorbance",
		"\ufeff400\t0,1\n\n# more\n410\t−0,2":       "[400 410] [0.1 -0.2] absorbance",
		"\"400\",\"0.1\",x\n\"410\",\"0.2\",y":      "[400 410] [0.1 0.2] absorbance",
		"nm,transmittance\n400;80\n410;75":          "[400 410] [80 75] %T",
	} {
		if s := read(t, text); fmt.Sprintf("%v %v %s", s.X, s.Y, s.YUnit) != want {
			t.Errorf("%q: %v %v %s", text, s.X, s.Y, s.YUnit)
		}
	}
}

// Every fault is named by its line.
func TestFaults(t *testing.T) {
	for text, want := range map[string]string{
		"":                                      "line 1: a spectrum has at least two points, and this one has 0",
		"400,0.1":                               "line 1: a spectrum has at least two points, and this one has 1",
		"400,0.1\n410":                          "line 2: two columns are needed",
		"400,0.1\nx,0.2":                        "line 2: “x” is no wavelength",
		"400,0.1\n410,NaN":                      "line 2: “NaN” is no absorbance",
		"##TITLE":                               "line 1: “##TITLE” has no equals sign",
		"##JCAMP-DX=4.24":                       "line 1: a file begins with ##TITLE=",
		"##TITLE=x\n##DATA=1":                   "line 1: this block has no ##END=",
		"##TITLE=x\n##END=":                     "line 2: “x” has no data",
		file("400ABCCBA@ab"):                    "line 9: ##NPOINTS= says 10, and there are 9",
		file("400ABCCB\n407A@abc"):              "line 12: this line begins at 407, and by the points before it should begin at 405",
		file("400AJJ%j\n404Cjjjjj"):             "line 12: the check does not fit: the line before ends with 2, and this one begins with 3",
		file("400AJJ%j\n404Jjjjjj"):             "line 12: after differences a line begins with the last ordinate once more",
		file("400JJJ"):                          "line 11: data begin with an ordinate",
		file("xABC"):                            "line 11: a line of data begins with its wavelength",
		file("400AB?C"):                         "line 11: “?C” is no number of data",
		file("400ABCCBA@abc", "##YFACTOR=much"): "line 8: ##YFACTOR=much is no number",
		file("400ABCCBA@abc", "##FIRSTY=2"):     "line 8: ##FIRSTY= says 2, and the data begin with 1",
		strings.Replace(file("400ABCCBA@abc"), "NANOMETERS", "CUBITS", 1):       "line 4: wavelengths are in NANOMETERS",
		strings.Replace(file("400ABCCBA@abc"), "(X++(Y..Y))", "(R++(I..I))", 1): "line 10: data are told as",
		strings.Replace(file("400ABCCBA@abc"), "##LASTX=409\n", "", 1):          "line 9: ##FIRSTX= and ##LASTX= stand before the data",
		strings.Replace(file("400 1"), "(X++(Y..Y))", "(XY..XY)", 1):            "line 10: data are told as",
		strings.Replace(file("400ABCCBA@abc"), "=ABSORBANCE", "=COUNTS", 1):     "line 5: ordinates are ABSORBANCE or TRANSMITTANCE, not COUNTS",
		"##TITLE=p\n##XYPOINTS=(XY..XY)\n400, 1, 2\n##END=":                     "line 3: pairs are needed, and this line has 3 numbers",
		"##TITLE=p\n##XYPOINTS=(XY..XY)\n400, x\n##END=":                        "line 3: “400 x” is no pair of numbers",
		"##TITLE=p\n##XUNITS=1/CM\n##XYPOINTS=(XY..XY)\n400, 1 0, 1\n##END=":    "line 3: a wavenumber of 0",
		"##TITLE=l\n##DATA TYPE=LINK\n##END=":                                   "line 1: there is no spectrum in this file",
		strings.Repeat("##TITLE=deep\n", 5):                                     "line 5: blocks within blocks",
		file("400A" + strings.Repeat("S99999", 3)):                              "line 11: a file has at most 100000 points",
		"400,1\n" + strings.Repeat("1,1\n", spectrum.MaxPoints):                 "line 100001: a file has at most 100000 points",
		strings.Repeat(" ", spectrum.MaxBytes+1):                                "line 1: this file is larger than 8 MB",
	} {
		_, err := spectrum.Read(text)
		var named *spectrum.Error
		if !errors.As(err, &named) || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%.60q: %v, want %s", text, err, want)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add(file("400AJJ%j\n404Bjjjjj\n409c"))
	f.Add("nm;A\n400;0,1\n410;0,2")
	f.Add(spectrum.JCAMP([]spectrum.Spectrum{bent(9), bent(5)}, spectrum.AFFN))
	f.Fuzz(func(t *testing.T, text string) {
		list, err := spectrum.Read(text)
		if err != nil {
			var named *spectrum.Error
			if !errors.As(err, &named) || named.Line < 1 {
				t.Errorf("%v names no line", err)
			}
			return
		}
		for _, s := range list {
			if len(s.X) != len(s.Y) || len(s.X) < 2 {
				t.Errorf("%d wavelengths, %d ordinates", len(s.X), len(s.Y))
			}
		}
		if _, err := spectrum.Read(spectrum.JCAMP(list, spectrum.DIFDUP)); err != nil && len(list) > 0 && len(list) < 60 {
			for _, s := range list {
				for i := range s.X { // what is beyond all measure is not written
					if math.Abs(s.X[i]) > 1e12 || math.Abs(s.Y[i]) > 1e12 || s.Y[i] != 0 && math.Abs(s.Y[i]) < 1e-12 {
						return
					}
				}
			}
			t.Errorf("what was read cannot be read again: %v", err)
		}
	})
}

func BenchmarkReadDIFDUP(b *testing.B) {
	text := spectrum.JCAMP([]spectrum.Spectrum{bent(spectrum.MaxPoints)}, spectrum.DIFDUP)
	for b.Loop() {
		if _, err := spectrum.Read(text); err != nil {
			b.Fatal(err)
		}
	}
}

func TestOverlay(t *testing.T) {
	a := spectrum.Points{X: []float64{400, 410, 420, 430}, Y: []float64{0.2, 0.3, 0.4, 0.5}}
	b := spectrum.Points{X: []float64{425, 415, 405}, Y: []float64{0.004, 0.2, 0.1}}
	got, err := spectrum.Overlay(spectrum.OverlayQuestion{A: a, B: b})
	if err != nil || fmt.Sprintf("%.3g %.3g %.3g", got.X, got.Difference, got.Ratio) != "[410 420] [0.15 0.298] [2 3.92]" {
		t.Errorf("%.3g %v", got, err)
	}
	b.Y[0] = -0.2
	if got, _ = spectrum.Overlay(spectrum.OverlayQuestion{A: a, B: b}); got.Ratio[1] != 0 {
		t.Errorf("divided by nothing: %v", got.Ratio)
	}
	for field, q := range map[string]spectrum.OverlayQuestion{
		"/a": {A: spectrum.Points{X: []float64{1}}, B: b}, "/b": {A: a, B: spectrum.Points{X: []float64{1, 3, 2}, Y: []float64{1, 1, 1}}},
	} {
		_, err := spectrum.Overlay(q)
		var p verdict.Problems
		if !errors.As(err, &p) || p[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	far := spectrum.Points{X: []float64{700, 800}, Y: []float64{1, 1}}
	if _, err := spectrum.Overlay(spectrum.OverlayQuestion{A: a, B: far}); err == nil || err.Error() != "the two have no wavelength in common" {
		t.Error(err)
	}
}

func TestAbsorbancesAndThinning(t *testing.T) {
	s := spectrum.Spectrum{X: []float64{1, 2, 3, 4, 5}, Y: []float64{100, 10, 0, 50, 1}, YUnit: "%T"}
	if got := s.Absorbances(); fmt.Sprintf("%.4g %s", got.Y, got.YUnit) != "[0 1 5 0.301 2] absorbance" || s.Y[0] != 100 {
		t.Errorf("%v", got)
	}
	if got := s.Thinned(3); fmt.Sprint(got.X) != "[1 3 5]" || len(s.Thinned(5).X) != 5 || len(s.Thinned(4).X) != 3 {
		t.Errorf("%v", got.X)
	}
}
