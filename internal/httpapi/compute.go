package httpapi

import (
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"vialbench/core/verdict"
	"vialbench/internal/lab"
)

// compute answers POST /compute/…. The computations are stateless: the same bodies go
// through the API and through the command line.
func (s *Server) compute(c *gin.Context) {
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		writeTooLarge(c.Writer)
		return
	}
	answer, err := lab.Compute(strings.TrimPrefix(c.Param("operation"), "/"), body)
	if err != nil {
		writeError(c, c.Writer, err)
		return
	}
	c.JSON(http.StatusOK, answer)
}

// Compute carries out an operation by name on a JSON body and returns the JSON
// answer, for the command line.
func Compute(operation string, body []byte) ([]byte, error) {
	answer, err := lab.Compute(operation, body)
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
