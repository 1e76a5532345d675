package calibration

import (
	"math"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
)

// Standing is how a meter stands under its newest calibration.
type Standing struct {
	// Word says it in short: calibrated, usable, stale, in doubt, not calibrated.
	Word    string          `json:"word"`
	Verdict verdict.Verdict `json:"verdict"`
	// HoursLeft until it is to be calibrated again; zero or less when it is due.
	HoursLeft float64 `json:"hoursLeft"`
	// CheckBy is when one buffer is to be checked next; zero when it is to be calibrated first.
	CheckBy time.Time `json:"checkBy"`
}

// NotCalibrated is how a meter stands that has no calibration.
func NotCalibrated() Standing {
	return Standing{
		Word:    "not calibrated",
		Verdict: electrode.RuleStale.Says(verdict.Stop, nil, "No calibration is in use: calibrate it before anything is read."),
	}
}

// Stands tells how a meter stands now. checked is when a check buffer was read last, zero
// when none was since the calibration, and failed reports whether it read wrong.
func (r Result) Stands(now, checked time.Time, failed bool, t verdict.Thresholds) Standing {
	hours := t.Of(electrode.RuleStale)
	age := now.Sub(r.At).Hours()
	s := Standing{HoursLeft: hours - age}
	says := quantity.Digits(math.Max(0, math.Floor(age)), 0) + " h ago"
	if age < 1 {
		says = "less than an hour ago"
	}
	switch worst := r.worst(t); {
	case failed:
		s.Word, s.HoursLeft = "in doubt", 0
		s.Verdict = electrode.RuleDrift.Says(
			verdict.Stop,
			nil,
			"A check buffer read wrong since it was calibrated: calibrate again.")
	case worst.Level == verdict.Stop:
		s.Word, s.Verdict = "in doubt", worst
		s.Verdict.Sentence = "In use against advice. " + worst.Sentence
	case age > hours:
		s.Word = "stale"
		s.Verdict = electrode.RuleStale.Says(verdict.Look, nil, "Calibrated %s: calibrate for this session.", says)
	default:
		s.Word = "calibrated"
		if worst.Level == verdict.Look {
			s.Word = "usable"
		}
		s.Verdict = electrode.RuleStale.Says(
			verdict.Fine,
			nil,
			"Calibrated %s, good for %s h more.",
			says,
			quantity.Digits(math.Floor(s.HoursLeft), 0),
		)
		if worst.Level == verdict.Look {
			good := s.Verdict.Sentence
			s.Verdict = worst
			s.Verdict.Sentence += " " + good
		}
		since := r.At
		if checked.After(since) {
			since = checked
		}
		s.CheckBy = since.Add(time.Duration(hours / 2 * float64(time.Hour))) // in the middle and at the end
	}
	return s
}

// worst is the gravest verdict of the calibration by itself.
func (r Result) worst(t verdict.Thresholds) verdict.Verdict {
	if list := r.Calibration.Judge(0, 0, r.At, t); len(list) > 0 {
		return list[0]
	}
	return verdict.Verdict{}
}
