package httpapi

import (
	"errors"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"vialbench/internal/lab"
)

// hub passes announcements to the event streams of this process.
type hub struct {
	mu      sync.Mutex
	streams map[chan string]struct{}
	// name tells processes apart, said is how much was announced in this one.
	name string
	said uint64
}

func newHub() *hub { return &hub{streams: map[chan string]struct{}{}, name: uuid.NewString()[:8]} }

// join opens a stream, and says what was announced before it.
func (h *hub) join() (stream chan string, seen string) {
	stream = make(chan string, 64)
	h.mu.Lock()
	defer h.mu.Unlock()
	h.streams[stream] = struct{}{}
	return stream, h.state()
}

func (h *hub) state() string { return fmt.Sprintf("%s %d", h.name, h.said) }

// seenHeader says how much was announced when work on an answer began: who opens a stream later
// than that has missed what came between.
const seenHeader = "Seen"

func (h *hub) mark(c *gin.Context) {
	if c.Request.Method == http.MethodGet && strings.HasPrefix(c.Request.URL.Path, apiPrefix+"/") {
		h.mu.Lock()
		c.Header(seenHeader, h.state())
		h.mu.Unlock()
	}
}

func (h *hub) leave(stream chan string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.streams, stream)
}

// announce hands a topic to every stream. A stream that has fallen far behind
// misses it, and finds "resync" waiting instead.
func (h *hub) announce(topic string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.said++
	for stream := range h.streams {
		select {
		case stream <- topic:
		default:
			drain(stream)
			stream <- "resync"
		}
	}
}

func drain(stream chan string) {
	for {
		select {
		case <-stream:
		default:
			return
		}
	}
}

// heartbeat keeps proxies from closing a quiet stream, and checks that the
// session still holds.
const heartbeat = 20 * time.Second

// eventTime is how long a stream may take to pass on one event.
const eventTime = 30 * time.Second

// write sends an event. A reader that does not take it for long is cut off.
func write(c *gin.Context, event string, data any) {
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Now().Add(eventTime))
	c.SSEvent(event, data)
	c.Writer.Flush()
}

// signedIn reports whether somebody is, and else answers that it is for those who are.
func signedIn(c *gin.Context) bool {
	_, ok := c.Request.Context().Value(actorKey{}).(lab.Actor)
	if !ok {
		writeProblem(c.Writer, http.StatusUnauthorized, "sign in first", nil)
	}
	return ok
}

// sessionHolds reports whether the session that a stream was opened in goes on.
func (s *Server) sessionHolds(c *gin.Context) bool {
	cookie, err := c.Request.Cookie(cookieName)
	if err != nil {
		return false
	}
	_, err = s.whoIs(c.Request.Context(), cookie.Value)
	var nobody lab.NotFound
	return !errors.As(err, &nobody)
}

// streamEvents sends the topics of what changes as server-sent events. Clients
// read again what they show of a topic; "resync" means all of it. The first event says what was
// announced before.
func (s *Server) streamEvents(c *gin.Context) {
	if !signedIn(c) {
		return
	}
	stream, seen := s.events.join()
	defer s.events.leave(stream)
	c.Header("X-Accel-Buffering", "no")
	write(c, "joined", seen)
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-s.lifetime.Done():
			return
		case topic := <-stream:
			if strings.HasPrefix(topic, lab.TopicSession) { // for the streams themselves
				if !s.sessionHolds(c) {
					return
				}
				continue
			}
			write(c, "topic", topic)
		case <-beat.C:
			if !s.sessionHolds(c) {
				return
			}
			write(c, "beat", "")
		}
	}
}
