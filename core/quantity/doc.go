// Package quantity reads and writes the quantities of the trade: a number with
// its unit, as a person types it ("12.5 mL", "12,5", "250mg") and as a record
// shows it, with every digit that was read.
//
// Units are those of the SI with the prefixes in use at the bench, and litre
// (SI Brochure, 9th edition, table 8). Within a dimension a unit is a factor
// times the base of that dimension: g, L, mol, mol/L, g/L, g/mL, g/mol, °C, 1 (g/g),
// mol/kg and eq/L. Per cent and parts per million are never bare: they say whether
// they are by mass in a mass (w/w) or by mass in a volume (w/v: 1 % is 10 g/L).
//
// Rounding follows the GUM, 7.2.6: two significant digits of uncertainty, and
// the value to the same decimal.
package quantity
