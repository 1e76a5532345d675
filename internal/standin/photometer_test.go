package standin

import (
	"context"
	"math"
	"net"
	"strings"
	"testing"
	"time"

	"vialbench/core/photometry"
	"vialbench/internal/instrument"
)

// dark is a photometer without noise and stray light, with a clock of its own.
func newBeam(t *testing.T) (p *Photometer, at *time.Time, do func(line string) string) {
	t.Helper()
	now := time.Date(2026, 5, 11, 8, 0, 0, 0, time.UTC)
	p = NewPhotometer(0, 0, 7)
	p.now, p.noise = func() time.Time { return now }, 0
	p.lit = now.Add(-10 * time.Hour)
	return p, &now, func(line string) string {
		t.Helper()
		answer, ok := p.Do(line)
		if !ok || strings.HasPrefix(answer, "ERROR") {
			t.Fatalf("%s: %q", line, answer)
		}
		return answer
	}
}

// shown is the absorbance that it shows.
func shown(t *testing.T, answer string) float64 {
	t.Helper()
	first, _, _ := strings.Cut(answer, ",")
	x, err := number(first)
	if err != nil {
		t.Fatal(answer)
	}
	return x
}

func TestTheBeamFollowsTheConcentration(t *testing.T) {
	_, _, do := newBeam(t)
	do("WAVELENGTH 526")
	if left := shown(t, do("READ?")); math.Abs(left) < 0.01 {
		t.Errorf("not blanked it shows %g", left)
	}
	do("BLANK")
	if got := do("READ?"); got != "+0.000,AU,526,nm,stable" {
		t.Error(got)
	}
	do("STANDIN:IN PERMANGANATE 1E-4")
	if got := do("READ?"); got != "+0.240,AU,526,nm,stable" { // ε 2400
		t.Error(got)
	}
	do("STANDIN:IN PERMANGANATE 2E-4")
	if got := do("READ?"); got != "+0.480,AU,526,nm,stable" {
		t.Error(got)
	}
	do("STANDIN:IN PERMANGANATE 2E-3")
	if got := do("READ?"); got != "9.9E37,AU,overload" {
		t.Error(got)
	}
	// At another wavelength the blank does not hold, a baseline does.
	do("STANDIN:IN WATER")
	do("WAVELENGTH 536")
	if got := do("READ?"); got != "+0.020,AU,536,nm,stable" {
		t.Error(got)
	}
	do("BASELINE")
	do("WAVELENGTH 700")
	if got := do("READ?"); got != "+0.000,AU,700,nm,stable" {
		t.Error(got)
	}
}

// What goes wrong at a bench shows as it does there.
func TestFaultsOfTheBeam(t *testing.T) {
	for fault, want := range map[string]float64{
		"STANDIN:FINGERPRINT ON": 0.48 + 0.03, "STANDIN:BUBBLE ON": 0.48 + 0.08, "STANDIN:CELL TURNED": 0.4*0.48 + 0.35,
		"STANDIN:STRAY 0.01": 0.466, "STANDIN:BANDWIDTH 70": 0.48 / math.Sqrt2,
	} {
		_, _, do := newBeam(t)
		do("WAVELENGTH 526")
		do("BLANK")
		do("STANDIN:IN PERMANGANATE 2E-4")
		do(fault)
		if got := shown(t, do("READ?")); math.Abs(got-want) > 0.006 {
			t.Errorf("%s: %g, want %g", fault, got, want)
		}
	}
	_, now, do := newBeam(t)
	do("BLANK")
	do("STANDIN:DRIFT 0.1")
	do("BLANK")
	*now = now.Add(30 * time.Minute)
	if got := shown(t, do("READ?")); math.Abs(got-0.05) > 0.0011 {
		t.Errorf("drifted by %g in half an hour", got)
	}
	p, now, do := newBeam(t)
	p.lit = *now // just switched on
	do("BLANK")
	*now = now.Add(40 * time.Minute)
	if got := shown(t, do("READ?")); got > -0.015 {
		t.Errorf("a cold lamp: %g", got)
	}
	do("STANDIN:WARM")
	if got := shown(t, do("READ?")); math.Abs(got+0.02) > 0.0011 { // blanked cold
		t.Errorf("warm: %g", got)
	}
	// Noise grows with the absorbance.
	spread := func(molar string) float64 {
		_, _, do := newBeam(t)
		do("WAVELENGTH 526")
		do("BLANK")
		do("STANDIN:NOISE 0.003")
		do("STANDIN:IN PERMANGANATE " + molar)
		sum, square := 0.0, 0.0
		const n = 400
		for range n {
			x := shown(t, do("READ?"))
			sum, square = sum+x, square+x*x
		}
		return math.Sqrt(square/n - sum*sum/n/n)
	}
	if pale, dark := spread("1E-5"), spread("4E-4"); dark < 5*pale || math.Abs(pale-0.003/math.Ln10) > 4e-4 {
		t.Errorf("spread %g of a pale solution, %g of a dark one", pale, dark)
	}
}

func TestCommandsOfThePhotometer(t *testing.T) {
	p, _, do := newBeam(t)
	if got := do("*IDN?"); got != "Vial Bench,stand-in photometer,1,1" {
		t.Error(got)
	}
	do("wavelength 880")
	do("standin:in molybdate-blue 3e-5")
	do("STANDIN:CELL TURNED")
	if got := do("STANDIN:STATE?"); got !=
		"nm=880;in=Phosphate as molybdate blue;molar=3e-05;cell=turned;fingerprint=off;bubble=off;bandwidth=0;stray=0;drift=0;noise=0;link=on" {
		t.Error(got)
	}
	for _, wrong := range []string{
		"WAVELENGTH", "WAVELENGTH 319", "WAVELENGTH 1001", "TARE", "STANDIN:IN", "STANDIN:IN COFFEE 1", "STANDIN:IN CHROMATE", "STANDIN:IN CHROMATE 21",
		"STANDIN:CELL BROKEN", "STANDIN:STRAY 0.2", "STANDIN:BANDWIDTH x", "STANDIN:PAN 5",
	} {
		if got, _ := p.Do(wrong); !strings.HasPrefix(got, "ERROR") {
			t.Errorf("%s: %q", wrong, got)
		}
	}
}

// Over its line: a scan finds the maximum, and a rack measured there gives the molar absorptivity that it was made with.
func TestARackOverTheLine(t *testing.T) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() {
		Serve(ctx, listener, NewPhotometer(4, 1e-4, 9))
		close(done)
	}()
	defer func() { stop(); <-done }()
	c, err := instrument.Open(ctx, listener.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = c.Close() }()
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	hand := func(line string) {
		_, err := c.Ask("STANDIN:" + line)
		must(err)
	}
	must(c.Blank(true))
	hand("IN IRON-PHENANTHROLINE 5E-5")
	nm, a, err := c.Scan(ctx, 420, 600, 5)
	must(err)
	answer, err := photometry.Scan(photometry.ScanQuestion{X: nm, Y: a})
	must(err)
	top := answer.Peaks[0]
	if math.Abs(top.X-510) > 3*top.U+0.3 || top.Absorbed != "green" || top.Seen != "purple" {
		t.Errorf("the maximum at %g ± %g nm, %s", top.X, top.U, top.Seen)
	}
	must(c.SetWavelength(answer.Measure))
	hand("IN WATER")
	must(c.Blank(false))
	var q photometry.Question
	for i := range 6 {
		molar := 1e-5 * float64(i)
		hand("IN IRON-PHENANTHROLINE " + []string{"0", "1E-5", "2E-5", "3E-5", "4E-5", "5E-5"}[i])
		r, err := c.Read()
		must(err)
		q.X, q.Y = append(q.X, molar), append(q.Y, r.Main().In("AU"))
	}
	line, err := photometry.Fit(q)
	must(err)
	if math.Abs(line.Line.Slope/11_100-1) > 0.02 {
		t.Errorf("ε %g", line.Line.Slope)
	}
	over, cancel := context.WithCancel(ctx)
	cancel()
	if _, _, err := c.Scan(over, 420, 600, 5); err == nil || err.Error() != "the time for a scan was over before 420 nm: take wider steps, or a shorter range" {
		t.Error(err)
	}
	if _, _, err := c.Scan(ctx, 600, 420, 5); err == nil {
		t.Error("a scan leads downwards")
	}
	hand("IN PERMANGANATE 1")
	if _, _, err := c.Scan(ctx, 500, 550, 5); err == nil || !strings.Contains(err.Error(), "nm it shows no absorbance") {
		t.Error(err)
	}
	if err := c.Tare(); err == nil {
		t.Error("a photometer was tared")
	}
	if err := c.SetWavelength(5); err == nil {
		t.Error("5 nm")
	}
}
