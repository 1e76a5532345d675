// Package unknowns gives every group of a class an unknown of its own, from a seed: strengths that can be told apart, made
// from one stock with the glass that is there, and shared out so that no two neighbours have the same.
//
// # Told apart
//
// A method that finds a strength c within ± U·c (k = 2) tells two strengths apart when they differ by more than what it
// leaves open of both, with a margin m (rule UN-1):
//
//	|c₁ − c₂| ≥ m·√((U·c₁)² + (U·c₂)²).
//
// That is E_n ≥ m of ISO 13528. Each strength is one dilution of the stock, c = c(stock)·n·V(pipette)/V(flask), in a
// flask that holds enough for all groups that get it. Of all sets of strengths in the range that are far enough apart, the
// seed chooses one, each with the same chance; so it does with who gets which, and with the numbers on the bottles.
//
// # Seed
//
// The same question with the same seed gives the same unknowns. What a seed gives cannot be guessed from what another
// gives: it is hashed (SHA-256) before numbers are drawn (PCG of the Go library).
package unknowns
