package lab

import (
	"encoding/json"

	"vialbench/core/calibration"
	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/readings"
	"vialbench/core/run"
	"vialbench/core/uncertain"
	"vialbench/core/verdict"
)

func init() {
	register(kind{
		name: calibration.Kind, place: 40, rules: electrode.Rules, ask: askCalibration,
		computations: map[string]computation{
			"calibration": computes(calibration.Request.Solve),
			"calibrate":   computes(calibrate),
			"ph":          computes(readPH),
		},
	})
	register(kind{
		name: readings.Kind, place: 41, rules: electrode.Rules, ask: askReadings,
		lines: &factTable{
			columns: []string{"sample", "shown", "°C", "note"}, need: 2, fact: readingOfLine,
			places: map[string]string{"name": "sample", "quantity": "shown", "beside/0": "°C", "text": "note"},
		},
	})
}

// calibrationQuestion asks for a calibration: of a meter by its ID, in buffers of the
// library by their keys, or with values of their own.
type calibrationQuestion struct {
	Meter   string             `json:"meter"`
	Buffers []electrode.Buffer `json:"buffers"`
	Celsius float64            `json:"celsius"`
	Low     float64            `json:"low"`
	High    float64            `json:"high"`
}

// askCalibration takes the meter and the rules from the lab, and buffers of the library
// from there.
func askCalibration(question json.RawMessage, own *owned) (run.Plan, error) {
	var q calibrationQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	meter, err := own.tx.MeterByID(q.Meter)
	if err != nil {
		return nil, at("/meter", found(err, "this meter"))
	}
	r := calibration.Request{Meter: meter.Meter, Celsius: q.Celsius, Low: q.Low, High: q.High, Thresholds: own.settings.Thresholds}
	for _, b := range q.Buffers {
		if known, ok := electrode.BufferOf(b.Key); ok && len(b.Table) == 0 {
			known.Opened = b.Opened
			b = known
		}
		r.Buffers = append(r.Buffers, b)
	}
	_, err = r.Design()
	return r, err
}

type readingsQuestion struct {
	Meter   string  `json:"meter"`
	Name    string  `json:"name"`
	Celsius float64 `json:"celsius"`
}

// askReadings takes the calibration that holds for a meter.
func askReadings(question json.RawMessage, own *owned) (run.Plan, error) {
	var q readingsQuestion
	if err := quantity.Decode(question, &q); err != nil {
		return nil, err
	}
	meter, err := own.tx.MeterByID(q.Meter)
	if err != nil {
		return nil, at("/meter", found(err, "this meter"))
	}
	past, err := calibrationsOf(own.tx, meter.Name, 1)
	if err != nil {
		return nil, err
	}
	if len(past) == 0 {
		return nil, verdict.Problems{{Field: "/meter", Reason: meter.Name + " has no calibration in use: calibrate it first"}}
	}
	return readings.Request{
		Name:         q.Name,
		Calibration:  past[0].Calibration,
		CalibratedAt: past[0].At,
		Run:          past[0].Run.ID,
		Number:       past[0].Run.Number,
		Celsius:      q.Celsius,
		Thresholds:   own.settings.Thresholds,
	}, nil
}

// readingOfLine is a sample as a line of a table has it: what the meter showed, in its unit.
func readingOfLine(plan run.Plan, r row) Statement {
	meter := plan.(readings.Request).Calibration.Meter //nolint:errcheck // what this kind decodes
	unit := "mV"
	if meter.ShowsPH {
		unit = "pH"
	}
	s := Statement{Stated: run.Stated{
		Fact:     fact.Fact{Kind: readings.KindRead, Choice: "sample", Name: r.cells["sample"], Text: r.cells["note"]},
		Quantity: &quantity.Stated{Text: r.cells["shown"], Unit: unit},
	}}
	if celsius := r.cells["°C"]; celsius != "" {
		s.Beside = []quantity.Stated{{Text: celsius, Unit: "°C"}}
	}
	return s
}

// CalibrateQuestion is a calibration as it comes, without a lab: the points read.
type CalibrateQuestion struct {
	Meter  *electrode.Meter  `json:"meter"`
	Points []electrode.Point `json:"points"`
	// FromBufferToBuffer leads from buffer to buffer instead of one line.
	FromBufferToBuffer bool               `json:"fromBufferToBuffer"`
	Low                float64            `json:"low"`
	High               float64            `json:"high"`
	Thresholds         verdict.Thresholds `json:"thresholds"`
}

// CalibrateAnswer is what a probe was found to be, and the verdicts on it.
type CalibrateAnswer struct {
	Calibration electrode.Calibration `json:"calibration"`
	Verdicts    []verdict.Verdict     `json:"verdicts"`
}

// calibrate answers without a lab. Buffers of the library may be named by their keys.
func calibrate(q CalibrateQuestion) (CalibrateAnswer, error) {
	meter := electrode.UsualMeter()
	if q.Meter != nil {
		meter = *q.Meter
		if err := meter.Check(); err != nil {
			return CalibrateAnswer{}, at("/meter", err)
		}
	}
	for i, p := range q.Points {
		if known, ok := electrode.BufferOf(p.Buffer.Key); ok && len(p.Buffer.Table) == 0 {
			known.Opened = p.Buffer.Opened
			q.Points[i].Buffer = known
		}
	}
	c, err := electrode.Calibrate(meter, q.Points, q.FromBufferToBuffer)
	if err != nil {
		return CalibrateAnswer{}, err
	}
	// How old a bottle is has nothing to do with the points: nobody said what day it is.
	return CalibrateAnswer{c, c.Judge(q.Low, q.High, noDay, q.Thresholds)}, nil
}

// PHQuestion is a reading under a calibration.
type PHQuestion struct {
	Calibration electrode.Calibration `json:"calibration"`
	Read        electrode.Read        `json:"read"`
	Thresholds  verdict.Thresholds    `json:"thresholds"`
}

// PHAnswer is the pH of a reading.
type PHAnswer struct {
	PH       uncertain.Number  `json:"pH"`
	Text     string            `json:"text"`
	Verdicts []verdict.Verdict `json:"verdicts"`
}

func readPH(q PHQuestion) (PHAnswer, error) {
	if len(q.Calibration.Points) == 0 || !(q.Calibration.Slope.Value > 0) {
		return PHAnswer{}, verdict.Problems{{Field: "/calibration", Reason: "give the calibration as “compute calibrate” answers it"}}
	}
	if err := q.Read.Check(); err != nil {
		return PHAnswer{}, at("/read", err)
	}
	pH := q.Calibration.PH(q.Read)
	text, u := quantity.Round(pH.Value, pH.Expanded())
	doubts := q.Calibration.Doubts(q.Read, pH.Value, noDay, noDay, q.Thresholds)
	return PHAnswer{pH, text + " ± " + u, append([]verdict.Verdict{}, doubts...)}, nil
}
