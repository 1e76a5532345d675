// Package formula reads chemical formulas as chemists type them and gives their
// molar mass and composition.
//
//	KHC8H4O4   Ca(NO3)2·4H2O   CuSO4.5H2O   K4[Fe(CN)6]*3H2O   H2PO4-   SO4 2-   Ca^2+
//
// Brackets ( ) [ ] { } nest. A separator · . * • starts an addend with its own
// count, so that a point between digits after a separator is a decimal point
// (CaSO4·0.5H2O). A charge is a trailing sign; its size is read as a charge after
// ^, after a space, as superscript digits, and directly after the symbol of a
// single metal (Ca2+); in every other case digits before the sign are an index
// (H2PO4-, I3-).
//
// The molar mass is M = Σ νᵢ·Aᵢ, in g/mol, with the standard atomic weights of
// 2021: T. Prohaska et al., Pure Appl. Chem. 94 (2022) 573 (values from memory).
// Where the weight is an interval [a, b], the conventional value is used with
// u = (b − a)/√12; elsewhere the stated uncertainty U is treated as limits,
// u = U/√3, as in EURACHEM/CITAC CG 4. The mass of electrons is neglected
// (0.0005 g/mol for one charge).
package formula
