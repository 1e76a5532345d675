// Package glassware knows what volumetric glass holds, how well, and what
// temperature does to it.
//
// Tolerances and neck diameters of one-mark flasks: ISO 1042:1998, class A and
// class B (from memory).
//
// A flask calibrated "to contain" at 20 °C holds at temperature t
//
//	V(t) = V₂₀·(1 + γ·(t − 20 °C)),   γ = 9.9·10⁻⁶ °C⁻¹
//
// for borosilicate glass 3.3 (ISO 4787). The aqueous solution that fills it
// expands as water, so that its volume at 20 °C is V(t)·ρ(t)/ρ(20 °C), with the
// density of air-free water by M. Tanaka et al., Metrologia 38 (2001) 301,
// 0–40 °C, ±0.001 kg/m³.
//
// How repeatably a person sets the meniscus on the line is treated as a height of
// 0.15 mm times the area of the neck: EURACHEM/CITAC CG 4, example A1, found
// 0.02 mL for a 100 mL flask, whose neck is about 13 mm wide.
package glassware
