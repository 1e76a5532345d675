package calibration

import (
	"fmt"
	"strings"

	"vialbench/core/electrode"
	"vialbench/core/fact"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/core/working"
)

// Explain implements [run.Plan]: the slope and the offset, from the readings.
func (r Request) Explain(facts []fact.Fact, figureID string) ([]working.Line, error) {
	a, err := r.follow(facts)
	if err != nil {
		return nil, err
	}
	c := a.calibration()
	if c == nil {
		return nil, verdict.Problems{{Field: "/figure", Reason: "there is no line before every buffer was read"}}
	}
	lines := []working.Line{electrode.NernstLine(c.Celsius, "T: mean temperature of the buffers, "+quantity.Digits(c.Celsius, 2)+" °C")}
	switch figureID {
	case "slope", "slope in mV":
		lines = append(lines, a.slopeLines(c)...)
		if figureID == "slope in mV" {
			lines = append(lines, working.Line{
				Title: "Slope in mV", Symbol: "S", Formula: `S = \eta\,k`,
				Substituted: fmt.Sprintf(`S = %.5f \times %.3f`, c.Slope.Value, electrode.Nernst(c.Celsius)) + working.Unit("mV"),
				Result:      working.Result(c.SlopeMV(), "mV"), From: []string{"for each pH"},
			})
		}
	case "offset":
		lines = append(lines, a.slopeLines(c)...)
		lines = append(lines, offsetLine(c))
	case "time constant":
		if c := a.figures(c); c[len(c)-1].ID == figureID {
			f := c[len(c)-1]
			return []working.Line{
				{
					Title:       "Response of the probe",
					Symbol:      `\tau`,
					Formula:     `E(t) = E_\infty + A\,e^{-t/\tau}`,
					Substituted: `\tau = ` + f.Text + working.Unit("s"),
					Result:      f.Text + " s",
					From:        []string{"fitted to the stream of the meter; the slowest of the points"},
				},
			}, nil
		}
		return nil, verdict.Problems{{Field: "/figure", Reason: "no time constant was read: the meter was not connected"}}
	default:
		return nil, verdict.Problems{
			{Field: "/figure", Reason: "a figure of a calibration is “slope”, “slope in mV”, “offset” or “time constant”"},
		}
	}
	return lines, nil
}

// slopeLines show η: of two points by their difference, of more by least squares.
func (a *account) slopeLines(c *electrode.Calibration) []working.Line {
	from := []string{}
	for _, p := range c.Points {
		from = append(
			from,
			fmt.Sprintf(
				"%s: pH %s at %s °C, read %s mV",
				p.Buffer.Name,
				quantity.Digits(p.PH, 3),
				quantity.Digits(p.Celsius, 1),
				quantity.Digits(p.MV, 1),
			),
		)
	}
	result := working.Result(c.Slope, "")
	if c.Assumed {
		return []working.Line{{Title: "Slope", Symbol: `\eta`, Formula: `\eta = 1`, Substituted: `\eta = 1`, Result: result,
			From: []string{"one buffer gives no slope: taken for theoretical, 95 to 105 %"}}}
	}
	meanX, meanE := 0.0, 0.0
	x := make([]float64, len(c.Points))
	for i, p := range c.Points {
		x[i] = electrode.Nernst(p.Celsius) * (p.PH - 7)
		meanX += x[i] / float64(len(x))
		meanE += p.MV / float64(len(x))
	}
	var over, under []string
	for i, p := range c.Points {
		dx, dE := plain(x[i]-meanX), plain(p.MV-meanE)
		over = append(over, fmt.Sprintf("(%s) \\times (%s)", dx, dE))
		under = append(under, fmt.Sprintf("(%s)^2", dx))
	}
	from = append(
		from,
		"x = k·(pH − 7), k at the temperature of each buffer; x̄ = "+quantity.Digits(meanX, 2)+" mV, Ē = "+quantity.Digits(meanE, 2)+" mV",
	)
	return []working.Line{{
		Title: "Slope, part of theory", Symbol: `\eta`, Formula: `\eta = -\frac{\sum (x_i-\bar x)(E_i-\bar E)}{\sum (x_i-\bar x)^2}`,
		Substituted: fmt.Sprintf(`\eta = -\frac{%s}{%s}`, strings.Join(over, " + "), strings.Join(under, " + ")),
		Result:      result, From: from,
	}}
}

func plain(x float64) string { return fmt.Sprintf("%.2f", x) }

func offsetLine(c *electrode.Calibration) working.Line {
	meanX, meanE := 0.0, 0.0
	for _, p := range c.Points {
		meanX += electrode.Nernst(p.Celsius) * (p.PH - 7) / float64(len(c.Points))
		meanE += p.MV / float64(len(c.Points))
	}
	return working.Line{
		Title: "Offset at pH 7", Symbol: "E_0", Formula: `E_0 = \bar E + \eta\,\bar x`,
		Substituted: fmt.Sprintf(`E_0 = (%s)%s + %.5f \times (%s)%s`,
			fmt.Sprintf("%.3f", meanE), working.Unit("mV"), c.Slope.Value, fmt.Sprintf("%.3f", meanX), working.Unit("mV")),
		Result: working.Result(c.Offset, "mV"),
		From:   []string{"what the probe gives at pH 7"},
	}
}
