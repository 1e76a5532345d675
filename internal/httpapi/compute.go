package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// computeTime is how long a computation may take, and how long it may wait for its turn.
const computeTime = 5 * time.Second

// errTooMuch is answered to whoever asks for what takes longer; asked again it would take as long.
var errTooMuch = errors.New("this computation took too long and was given up: ask for less at once")

// light are the computations that read one text: they take microseconds, every field of a page asks
// for them, and so they wait for no turn.
var light = map[string]bool{"quantity": true, "formula": true}

// compute answers POST /compute/…. The computations are stateless: the same bodies go
// through the API and through the command line.
func (s *Server) compute(c *gin.Context) {
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		writeTooLarge(c.Writer)
		return
	}
	answer, err := s.computed(c.Request.Context(), strings.TrimPrefix(c.Param("operation"), "/"), body)
	if err != nil {
		writeError(c.Request.Context(), c.Writer, err)
		return
	}
	c.JSON(http.StatusOK, answer)
}

// turn waits for a turn of whoever asks; done gives it back.
func (s *Server) turn(ctx context.Context) (done func(), err error) {
	waiting, cancel := context.WithTimeout(ctx, computeTime)
	defer cancel()
	done, err = s.turns.take(waiting, actor(ctx).ID)
	if errors.Is(err, context.DeadlineExceeded) {
		return nil, errBusy
	}
	return done, err
}

// computed waits for a turn and computes.
func (s *Server) computed(ctx context.Context, operation string, body []byte) (any, error) {
	if !light[operation] {
		done, err := s.turn(ctx)
		if err != nil {
			return nil, err
		}
		defer done()
	}
	ctx, cancel := context.WithTimeout(ctx, computeTime)
	defer cancel()
	answer, err := lab.Compute(ctx, operation, body)
	if errors.Is(err, context.DeadlineExceeded) {
		return nil, errTooMuch
	}
	return answer, err
}

// Compute carries out an operation by name on a JSON body and returns the JSON
// answer, for the command line.
func Compute(ctx context.Context, operation string, body []byte) ([]byte, error) {
	answer, err := lab.Compute(ctx, operation, body)
	var problems verdict.Problems
	var unknown lab.NotFound
	switch {
	case errors.As(err, &problems):
		lines := make([]string, len(problems))
		for i, p := range problems {
			lines[i] = strings.TrimPrefix(p.Field+": ", ": ") + p.Reason
		}
		return nil, errors.New(strings.Join(lines, "\n"))
	case errors.As(err, &unknown):
		return nil, errors.New("no computation “" + operation + "”: use one of " + strings.Join(lab.Computations(), ", "))
	case err != nil:
		return nil, err
	}
	return json.MarshalIndent(answer, "", "  ")
}
