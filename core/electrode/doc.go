// Package electrode is about glass electrodes and the meters that they hang on: reference
// buffers, calibration, when a reading has settled and where it is going, and the pH that
// follows from a potential.
//
// A probe gives a potential that falls in a straight line with pH,
//
//	E = E₀ − η·k·(pH − 7),   k = R·T·ln 10 / F
//
// with E₀ the offset (mV at pH 7), η the slope as a part of the theoretical one, and k the
// Nernst factor in mV (59.159 mV at 25 °C). Calibration finds E₀ and η from buffers by
// least squares of E on k·(pH(S) − 7), each buffer with its pH(S) at the temperature that
// it had. So the slope is compensated for temperature; what temperature does to the
// chemistry of a sample is not, and cannot be.
//
// The uncertainties of buffers, readings and thermometer go into E₀ and η as
// contributions by source (package uncertain), which makes the covariance of the two, and
// of all that is read with them, come out by itself.
//
// Sources: R. P. Buck and others, Measurement of pH. Definition, standards, and
// procedures (IUPAC Recommendations 2002), Pure Appl. Chem. 74 (2002) 2169; CODATA 2018
// for R and F.
package electrode
