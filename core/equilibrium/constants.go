package equilibrium

import (
	"math"

	"vialbench/core/glassware"
)

const (
	gasConstant = 8.314462618 // J/(mol·K), CODATA 2018
	zeroCelsius = 273.15
	reference   = 298.15 // K, of the constants in the library
	ln10        = math.Ln10
)

// Temperatures in °C that constants are brought to.
const (
	MinTemperature = 0.0
	MaxTemperature = 60.0
)

// PKw is the ion product of water, −log Kw, on the scale of mol/kg, which differs from that
// of mol/L by less than 0.003 below 40 °C: Marshall and Franck, J. Phys.
// Chem. Ref. Data 10 (1981) 295, equation 4 (from memory, compared with the table of the
// CRC Handbook in the tests). celsius is 0 to 60.
func PKw(celsius float64) float64 {
	t := celsius + zeroCelsius
	density := glassware.WaterDensity(celsius) / 1000
	return 4.098 + 3245.2/t - 2.2362e5/(t*t) + 3.984e7/(t*t*t) -
		(13.957-1262.3/t+8.5641e5/(t*t))*math.Log10(density)
}

// permittivity is the relative permittivity of water: Malmberg and Maryott, J. Res. NBS 56
// (1956) 1 (from memory).
func permittivity(celsius float64) float64 {
	return 87.740 - 0.40008*celsius + 9.398e-4*celsius*celsius - 1.410e-6*celsius*celsius*celsius
}

// debyeHuckel returns A in (L/mol)^½, with log to the base 10, and B in (L/mol)^½/Å.
func debyeHuckel(celsius float64) (a, b float64) {
	const room = reference - zeroCelsius
	x := permittivity(celsius) * (celsius + zeroCelsius) / (permittivity(room) * reference)
	return 0.509 / math.Pow(x, 1.5), 0.328 / math.Sqrt(x)
}

// vantHoff is how much larger ln K is at a temperature in °C than at 25 °C. enthalpy is in
// J/mol, heatCapacity in J/(mol·K).
func vantHoff(enthalpy, heatCapacity, celsius float64) float64 {
	t := celsius + zeroCelsius
	return enthalpy/gasConstant*(1/reference-1/t) + heatCapacity/gasConstant*(reference/t-1+math.Log(t/reference))
}

// OpenCO2 is how much carbon dioxide water holds in the air, in mol/L: 420 ppm of it by
// Henry's law, 0.0339 mol/(L·bar) at 25 °C going as exp(2400 K·(1/T − 1/T₀)): Sander,
// Atmos. Chem. Phys. 15 (2015) 4399 (from memory). From 5 to 40 °C that is within 5 % of the equation of
// Plummer and Busenberg, Geochim. Cosmochim. Acta 46 (1982) 1011.
func OpenCO2(celsius float64) float64 {
	const share, henry, kelvin = 420e-6, 0.0339, 2400
	return share * henry * math.Exp(kelvin*(1/(celsius+zeroCelsius)-1/reference))
}
