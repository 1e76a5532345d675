package httpapi

// The bounds of a body, for the tests of the contract.
const (
	MostDepth   = mostDepth
	MostMembers = mostMembers
)
