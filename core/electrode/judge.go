package electrode

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"gonum.org/v1/gonum/stat/combin"

	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Judge gives the verdicts on a calibration, the gravest first. low and high are
// the pH that the samples are expected to have, both 0 when nobody said; now tells how old
// the buffers are. Choices are those of whoever decides.
func (c Calibration) Judge(low, high float64, now time.Time, t verdict.Thresholds) []verdict.Verdict {
	var stop, look, fine []verdict.Verdict
	add := func(v verdict.Verdict) {
		switch v.Level {
		case verdict.Stop:
			stop = append(stop, v)
		case verdict.Look:
			look = append(look, v)
		case verdict.Fine:
			fine = append(fine, v)
		}
	}
	if mixed := c.mixedUp(); mixed != "" {
		add(RuleSwapped.Finds(verdict.Stop, nil, mixed))
	} else {
		add(c.judgeSlope(t))
		if c.Low() <= 8.5 && c.High() >= 5.5 { // else the offset is too far from the points
			add(c.judgeOffset(t))
		}
	}
	if suspects, off := c.offTheLine(); off > t.Of(RuleResidual) && len(stop) == 0 {
		text := quantity.Digits(off, 2)
		if len(suspects) == 1 {
			add(RuleResidual.Says(verdict.Look, nil, "%s lies %s pH off the line: rinse, and take that point again.", suspects[0], text))
		} else {
			add(RuleResidual.Says(verdict.Look, nil,
				"The points lie up to %s pH off the line. One of these is wrong, and %d points cannot tell which: %s. Rinse, and take them again.",
				text, len(c.Points), listed(suspects)))
		}
	}
	if low < high {
		c.judgeSpan(low, high, add)
	}
	for _, p := range c.Points {
		if opened, err := time.Parse(time.DateOnly, p.Buffer.Opened); err == nil {
			if days := math.Floor(now.Sub(opened).Hours() / 24); days > t.Of(RuleBufferAge) {
				add(RuleBufferAge.Says(verdict.Look, nil, "%s was opened %s days ago: take a fresh bottle.", p.Buffer.Name, quantity.Digits(days, 0)))
			}
		}
		if p.Spread > 0 {
			add(
				RuleSettled.Says(
					verdict.Look,
					nil,
					"%s was taken before it had settled (it moved by %s mV).",
					p.Buffer.Name,
					quantity.Digits(p.Spread, 1),
				),
			)
		}
	}
	if cold, warm := c.temperatures(); warm-cold > t.Of(RuleTemperature) {
		add(RuleTemperature.Says(verdict.Look, nil, "The buffers were at %s to %s °C: let them come to one temperature, and take them again.",
			quantity.Digits(cold, 1), quantity.Digits(warm, 1)))
	}
	return append(append(stop, look...), fine...)
}

func (c Calibration) judgeSlope(t verdict.Thresholds) verdict.Verdict {
	if c.Assumed {
		return RuleOnePoint.Says(
			verdict.Look,
			nil,
			"One buffer: the offset is known, the slope is assumed to be 100 %%. For rough work near pH %s.",
			quantity.Digits(c.Low(), 1),
		)
	}
	percent := 100 * c.Slope.Value
	text := quantity.Digits(percent, 1) + " % of the theoretical slope"
	switch {
	case percent < t.Of(RuleSlopeUsable):
		return RuleSlopeUsable.Says(verdict.Stop, nil, "%s: do not use this probe. Clean or recondition it, then calibrate again.", text)
	case percent > t.Of(RuleSlopeMost):
		return RuleSlopeMost.Says(verdict.Stop, nil, "%s: no probe gives more than theory. Look at the buffers, then calibrate again.", text)
	case percent < t.Of(RuleSlopeLow):
		return RuleSlopeLow.Says(verdict.Look, nil, "%s: usable. Clean or recondition the probe and look again.", text)
	case percent > t.Of(RuleSlopeHigh):
		return RuleSlopeHigh.Says(verdict.Look, nil, "%s: usable. Take fresh buffer and look again.", text)
	}
	return RuleSlopeLow.Says(verdict.Fine, nil, "%s: good.", text)
}

func (c Calibration) judgeOffset(t verdict.Thresholds) verdict.Verdict {
	off := math.Abs(c.Offset.Value)
	text := quantity.Digits(c.Offset.Value, 1) + " mV at pH 7"
	switch {
	case off > t.Of(RuleOffsetUsable):
		return RuleOffsetUsable.Says(
			verdict.Stop,
			nil,
			"%s: do not use this probe. Renew its filling or its junction; and look whether the buffer is the one meant.",
			text,
		)
	case off > t.Of(RuleOffset):
		return RuleOffset.Says(verdict.Look, nil, "%s: usable. Soak or refill the probe and look again.", text)
	}
	return RuleOffset.Says(verdict.Fine, nil, "%s: good.", text)
}

func (c Calibration) judgeSpan(low, high float64, add func(verdict.Verdict)) {
	samples := fmt.Sprintf("The samples are expected from pH %s to %s", quantity.Digits(low, -1), quantity.Digits(high, -1))
	switch {
	case c.High() < low:
		add(RuleBracket.Says(verdict.Look, nil, "%s: all buffers lie below. Take one above %s too.", samples, quantity.Digits(high, -1)))
	case c.Low() > high:
		add(RuleBracket.Says(verdict.Look, nil, "%s: all buffers lie above. Take one below %s too.", samples, quantity.Digits(low, -1)))
	case c.Low() > low || c.High() < high:
		add(RuleBracket.Says(verdict.Look, nil, "%s, and the buffers from %s to %s: take one beyond each end of the samples.",
			samples, quantity.Digits(c.Low(), 2), quantity.Digits(c.High(), 2)))
	default:
		add(RuleBracket.Says(verdict.Fine, nil, "%s, inside the buffers.", samples))
	}
}

// settled is how far the others may lie off their line without a point, in pH, when that one is all
// that was wrong with it (common practice: what a settled meter scatters).
const settled = 0.01

// offTheLine is how far the points lie off the line at most, in pH, and which of them that may be
// due to: those without which the others lie on one. The largest residual alone would always blame
// the middle one of three, and any two points lie on a line.
func (c Calibration) offTheLine() (suspects []string, off float64) {
	left, least := make([]float64, len(c.Points)), math.Inf(1)
	for i, p := range c.Points {
		off = math.Max(off, math.Abs(p.ResidualPH))
		left[i] = c.without(i)
		least = math.Min(least, left[i])
	}
	for i, p := range c.Points {
		if left[i] <= math.Max(settled, 2*least) {
			suspects = append(suspects, p.Buffer.Name)
		}
	}
	return suspects, off
}

// without is how far the other points lie off their own line at most, in pH.
func (c Calibration) without(point int) (off float64) {
	others := slices.Delete(slices.Clone(c.Points), point, point+1)
	piece, _, err := fit(c.Meter, others)
	if err != nil {
		return 0 // all of one pH
	}
	for _, p := range others {
		k := Nernst(p.Celsius)
		off = math.Max(off, math.Abs(p.MV-piece.Offset.Value+piece.Slope.Value*k*(p.PH-7))/(piece.Slope.Value*k))
	}
	return off
}

// listed is a list in a sentence: a, b and c.
func listed(names []string) string {
	if n := len(names); n > 1 {
		return strings.Join(names[:n-1], ", ") + " and " + names[n-1]
	}
	return strings.Join(names, "")
}

func (c Calibration) temperatures() (cold, warm float64) {
	cold, warm = math.Inf(1), math.Inf(-1)
	for _, p := range c.Points {
		cold, warm = min(cold, p.Celsius), max(warm, p.Celsius)
	}
	return cold, warm
}

// tellable is how far two buffers are apart at least that a potential tells apart, in mV.
const tellable = 25

// falls reports whether potentials fall from buffer to buffer about as they should. The first two
// that do not are a and b.
func (c Calibration) falls(mV []float64) (a, b int, ok bool) {
	for i := 0; i+1 < len(c.Points); i++ {
		expected := Nernst(c.Celsius) * (c.Points[i+1].PH - c.Points[i].PH)
		if fell := mV[i] - mV[i+1]; expected >= tellable && (fell < expected/2 || fell > 2*expected) {
			return i, i + 1, false
		}
	}
	return 0, 0, true
}

// mixedUp says which buffers were swapped, or which one was taken twice, by the potentials
// alone; empty when all is as it should be.
func (c Calibration) mixedUp() string {
	mV := make([]float64, len(c.Points))
	for i, p := range c.Points {
		mV[i] = p.MV
	}
	i, k, ok := c.falls(mV)
	if ok {
		return ""
	}
	if moved := c.exchanged(mV); len(moved) > 0 {
		names := make([]string, len(moved))
		for n, m := range moved {
			names[n] = c.Points[m].Buffer.Name
		}
		verb := "are swapped"
		if len(moved) > 2 {
			verb = "stand in each other's place"
		}
		return fmt.Sprintf("%s %s: only in another order do their potentials fall as they should. Take these points again.", listed(names), verb)
	}
	a, b := c.Points[i], c.Points[k]
	expected := Nernst(c.Celsius) * (b.PH - a.PH)
	if fell := a.MV - b.MV; fell > -expected/2 && fell < expected/2 {
		return fmt.Sprintf(
			"%s and %s read nearly the same (%s and %s mV, where %s lie between them): the probe stood in one buffer twice, or is broken. Look, and take both again.",
			a.Buffer.Name,
			b.Buffer.Name,
			quantity.Digits(a.MV, 1),
			quantity.Digits(b.MV, 1),
			quantity.Digits(expected, 0),
		)
	}
	return fmt.Sprintf(
		"From %s to %s the potential goes from %s to %s mV where it should fall by about %s: one of the two is not what its name says. Take both points again.",
		a.Buffer.Name,
		b.Buffer.Name,
		quantity.Digits(a.MV, 1),
		quantity.Digits(b.MV, 1),
		quantity.Digits(expected, 0),
	)
}

// exchanged finds the order of the potentials in which all of them fall as they should, and names
// the points that it moves: of several such orders the one that moves fewest, then the one in which
// they lie nearest to a line. None is found of a buffer that was taken twice.
func (c Calibration) exchanged(mV []float64) (moved []int) {
	n, off := len(mV), 0.0
	order := make([]float64, n)
	for _, permutation := range combin.Permutations(n, n) {
		var list []int
		for i, from := range permutation {
			order[i] = mV[from]
			if from != i {
				list = append(list, i)
			}
		}
		if _, _, ok := c.falls(order); !ok || len(moved) > 0 && len(list) > len(moved) {
			continue
		}
		rest := 0.0
		for i := 0; i+1 < n; i++ {
			gap := order[i] - order[i+1] - Nernst(c.Celsius)*(c.Points[i+1].PH-c.Points[i].PH)
			rest += gap * gap
		}
		if len(moved) == 0 || len(list) < len(moved) || rest < off {
			moved, off = list, rest
		}
	}
	return moved
}
