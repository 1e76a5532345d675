package calibration

import (
	"fmt"
	"slices"

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
	case "as found":
		return a.foundLines()
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
			{Field: "/figure", Reason: "a figure of a calibration is “slope”, “slope in mV”, “offset”, “as found” or “time constant”"},
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
		return []working.Line{{
			Title: "Slope", Symbol: `\eta`, Formula: `\eta = 1`, Substituted: `\eta = 1`, Result: result,
			From: []string{"one buffer gives no slope: assumed theoretical, 95 to 105 %"},
		}}
	}
	meanX, meanE := 0.0, 0.0
	x := make([]float64, len(c.Points))
	for i, p := range c.Points {
		x[i] = electrode.Nernst(p.Celsius) * (p.PH - 7)
		meanX += x[i] / float64(len(x))
		meanE += p.MV / float64(len(x))
	}
	products, squares := make([]string, len(x)), make([]string, len(x))
	sxe, sxx := 0.0, 0.0
	for i, p := range c.Points {
		dx, dE := x[i]-meanX, p.MV-meanE
		products[i] = fmt.Sprintf("(%.2f) \\times (%.2f)", dx, dE)
		squares[i] = fmt.Sprintf("(%.2f)^2", dx)
		sxe, sxx = sxe+dx*dE, sxx+dx*dx
	}
	means := "x = k·(pH − 7), k at the temperature of each buffer; x̄ = " + quantity.Digits(
		meanX,
		2,
	) + " mV, Ē = " + quantity.Digits(meanE, 2) + " mV"
	return []working.Line{
		{
			Title:       "Products",
			Symbol:      "S_{xE}",
			Formula:     `S_{xE} = \textstyle\sum (x_i-\bar x)(E_i-\bar E)`,
			Substituted: "S_{xE} = " + working.Sum(products),
			Result:      quantity.Digits(sxe, 0) + " ",
			From:        append(from, means, "in mV²"),
		},
		{
			Title: "Squares", Symbol: "S_{xx}", Formula: `S_{xx} = \textstyle\sum (x_i-\bar x)^2`, Substituted: "S_{xx} = " + working.Sum(squares),
			Result: quantity.Digits(sxx, 0) + " ", From: []string{"in mV²"},
		},
		{
			Title: "Slope, part of theory", Symbol: `\eta`, Formula: `\eta = -\frac{S_{xE}}{S_{xx}}`,
			Substituted: fmt.Sprintf(`\eta = -\frac{(%.0f)}{%.0f}`, sxe, sxx), Result: result, From: []string{"least squares, all points alike"},
		},
	}
}

// foundLines show how far the display was off before it was adjusted.
func (a *account) foundLines() ([]working.Line, error) {
	off, ok := a.asFound()
	if !ok {
		return nil, verdict.Problems{{Field: "/figure", Reason: "the display was not adjusted"}}
	}
	i := slices.IndexFunc(a.points, func(p point) bool { return p.found != nil })
	found := a.points[i].found
	pH, err := a.Buffers[i].At(found.Celsius)
	return []working.Line{{
		Title: "Off before it was adjusted", Symbol: `\Delta`, Formula: `\Delta = \mathrm{pH}_{\mathrm{shown}} - \mathrm{pH}_{\mathrm{buffer}}`,
		Substituted: fmt.Sprintf(`\Delta = %.3f - %.3f`, 7-found.MV/electrode.Nernst(found.Celsius), pH),
		Result:      working.Result(off, ""), From: []string{"in " + a.Buffers[i].Name + ", the first that was adjusted"},
	}}, err
}

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
