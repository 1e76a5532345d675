// Package equilibrium computes what acids, bases and their salts give in water: pH,
// ionic strength, every species, and the buffer capacity.
//
// A [System] is an acid HnA of charge z with its n thermodynamic constants
//
//	Ki = a(H⁺)·a(H(n−i)A)/a(H(n−i+1)A)
//
// A mixture holds total concentrations of systems and of strong ions, which take no part.
// In which form a compound was put in is told by the charges of its counter-ions alone.
// Solved is the balance of charge
//
//	[H⁺] − [OH⁻] + Σ ci·zi + Σ c(strong)·z = 0
//
// with concentrations from activities, a = γ·c, in mol/L, and pH = −log a(H⁺). Activity
// coefficients follow [Davies], [ExtendedDebyeHuckel] or [Ideal]:
//
//	log γ = −A·z²·(√I/(1 + √I) − 0.3·I)          (Davies 1962)
//	log γ = −A·z²·√I/(1 + B·å·√I)                (Debye, Hückel; å by Kielland 1937)
//	I = ½·Σ c·z²
//
// A is 0.509 at 25 °C, as the 0.3 of Davies was fitted with, and goes with the temperature
// as (εT)^−1.5; B is 0.328 /Å, as (εT)^−0.5. Uncharged species have γ = 1, and the
// activity of water is 1. Both models hold to about 0.1 mol/L, Davies with care to 0.5.
//
// Constants go with the temperature by van 't Hoff, with a heat capacity where it is known:
//
//	ln K(T) = ln K(T₀) + ΔH/R·(1/T₀ − 1/T) + ΔCp/R·(T₀/T − 1 + ln(T/T₀))
//
// and the ion product of water as Marshall and Franck (1981) give it.
//
// Temperatures are 0 to 60 °C, concentrations up to 20 mol/L. The uncertainty of a
// pH is worked out from those of concentrations, constants and temperature, and from how
// far the models of activity can be trusted.
package equilibrium
