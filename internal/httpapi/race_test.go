//go:build race

package httpapi_test

import "time"

// slowest is how long an answer may take under the race detector, which slows everything.
const slowest = 10 * time.Second
