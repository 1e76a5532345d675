//go:build !race

package httpapi_test

import "time"

// slowest is how long an answer may take.
const slowest = time.Second
