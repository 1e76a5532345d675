package httpapi

import (
	"context"
	"crypto/subtle"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"vialbench/core/verdict"
	"vialbench/internal/lab"
	"vialbench/internal/store"
)

// The cookies: of the session, and of a device on which somebody signed in before.
const (
	cookieName   = "vialbench_session"
	deviceCookie = "vialbench_device"
)

type actorKey struct{}

// whoIs looks a session up. The end of a stream does not break it off, see [Server.limited].
func (s *Server) whoIs(ctx context.Context, cookie string) (lab.Actor, error) {
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), s.options.Timeout)
	defer cancel()
	return s.lab.WhoIs(ctx, cookie)
}

// actor returns who acts; the contract says where somebody does.
func actor(ctx context.Context) lab.Actor {
	a, _ := ctx.Value(actorKey{}).(lab.Actor)
	return a
}

func (s *Server) setCookie(ctx context.Context, name, token string, maxAge int) {
	cookie := http.Cookie{
		Name:     name,
		Value:    token,
		Path:     "/",
		MaxAge:   maxAge,
		HttpOnly: true,
		Secure:   s.options.SecureCookies,
		SameSite: http.SameSiteStrictMode,
	}
	answerHeader(ctx).Add("Set-Cookie", cookie.String())
}

// cookieLife is how long the browser keeps the cookie; the server decides how
// long the session lasts.
const (
	cookieLife = 60 * 24 * 3600
	deviceLife = 365 * 24 * 3600
)

// GetSetup implements StrictServerInterface.
func (s *Server) GetSetup(ctx context.Context, _ GetSetupRequestObject) (GetSetupResponseObject, error) {
	needed, err := s.lab.NeedsSetup(ctx)
	answer := GetSetup200JSONResponse{Needed: needed}
	if who := actor(ctx); who.ID != "" {
		account := wireAccount(who.Account)
		answer.Account = &account
	}
	return answer, err
}

func newAccount(a NewAccount) lab.NewAccount {
	n := lab.NewAccount{Name: a.Name, Initials: a.Initials, Login: a.Login, Password: a.Password, Role: lab.Assistant}
	if a.Role != nil {
		n.Role = string(*a.Role)
	}
	return n
}

// CreateFirstInstructor implements StrictServerInterface.
func (s *Server) CreateFirstInstructor(
	ctx context.Context,
	r CreateFirstInstructorRequestObject,
) (CreateFirstInstructorResponseObject, error) {
	if word := s.options.SetupWord; word != "" &&
		subtle.ConstantTimeCompare([]byte(word), []byte(strings.TrimSpace(given(r.Body.Word)))) != 1 {
		return nil, verdict.Problems{{Field: "/word", Reason: "this is not the set-up word: the program prints it where it was started"}}
	}
	account, err := s.lab.CreateFirst(ctx, newAccount(*r.Body))
	if err != nil {
		return nil, err
	}
	token, err := s.lab.Begin(ctx, account, s.attempt(ctx))
	if err != nil {
		return nil, err
	}
	s.setCookie(ctx, s.sessionCookie(), token, cookieLife)
	return CreateFirstInstructor201JSONResponse(wireAccount(account)), nil
}

// GetSession implements StrictServerInterface.
func (s *Server) GetSession(ctx context.Context, _ GetSessionRequestObject) (GetSessionResponseObject, error) {
	return GetSession200JSONResponse(wireAccount(actor(ctx).Account)), nil
}

// SignIn implements StrictServerInterface.
func (s *Server) SignIn(ctx context.Context, r SignInRequestObject) (SignInResponseObject, error) {
	in, err := s.lab.SignIn(ctx, r.Body.Login, r.Body.Password, s.attempt(ctx))
	if err != nil {
		return nil, err
	}
	s.setCookie(ctx, s.sessionCookie(), in.Token, cookieLife)
	s.setCookie(ctx, deviceCookie, in.Device, deviceLife)
	return SignIn200JSONResponse(wireAccount(in.Account)), nil
}

// ChangeOwnPassword implements StrictServerInterface.
func (s *Server) ChangeOwnPassword(ctx context.Context, r ChangeOwnPasswordRequestObject) (ChangeOwnPasswordResponseObject, error) {
	err := s.lab.ChangeOwnPassword(ctx, actor(ctx), cookie(ctx, s.sessionCookie()), r.Body.Current, r.Body.Password, s.clientAddress(ctx))
	return ChangeOwnPassword204Response{}, err
}

// attempt is where a request comes from.
func (s *Server) attempt(ctx context.Context) lab.Attempt {
	at := lab.Attempt{Address: s.clientAddress(ctx), Device: cookie(ctx, deviceCookie), Session: cookie(ctx, s.sessionCookie())}
	if c, ok := ctx.(*gin.Context); ok {
		at.Browser = c.Request.UserAgent()
	}
	return at
}

// sessionCookie is the name of the cookie of a session. Where HTTPS is, the browser itself sees to
// it that no other site of the domain and no page without HTTPS sets it.
func (s *Server) sessionCookie() string {
	if s.options.SecureCookies {
		return "__Host-" + cookieName
	}
	return cookieName
}

// ListSessions implements StrictServerInterface.
func (s *Server) ListSessions(ctx context.Context, _ ListSessionsRequestObject) (ListSessionsResponseObject, error) {
	list, err := s.lab.Sessions(ctx, actor(ctx), cookie(ctx, s.sessionCookie()))
	return ListSessions200JSONResponse(each(list, func(one lab.Session) SignedIn {
		return SignedIn{Since: one.CreatedAt, Until: one.ExpiresAt, Address: one.Address, Browser: one.Browser, Current: one.Current}
	})), err
}

// SignOutEverywhere implements StrictServerInterface.
func (s *Server) SignOutEverywhere(ctx context.Context, _ SignOutEverywhereRequestObject) (SignOutEverywhereResponseObject, error) {
	if err := s.lab.SignOutEverywhere(ctx, actor(ctx)); err != nil {
		return nil, err
	}
	s.setCookie(ctx, s.sessionCookie(), "", -1)
	return SignOutEverywhere204Response{}, nil
}

// cookie is what a cookie of the request says; empty when there is none.
func cookie(ctx context.Context, name string) string {
	c, ok := ctx.(*gin.Context)
	if !ok {
		return ""
	}
	found, err := c.Request.Cookie(name)
	if err != nil {
		return ""
	}
	return found.Value
}

// clientAddress is where a request comes from: what a proxy says that the installation
// trusts, and else who is connected.
func (s *Server) clientAddress(ctx context.Context) string {
	c, ok := ctx.(*gin.Context)
	if !ok {
		return ""
	}
	host, _, _ := net.SplitHostPort(c.Request.RemoteAddr)
	if !s.options.trusts(host) {
		return host
	}
	hops := strings.Split(strings.Join(c.Request.Header.Values("X-Forwarded-For"), ","), ",")
	for _, hop := range slices.Backward(hops) { // the nearest one that is no proxy of ours
		hop = strings.TrimSpace(hop)
		if _, err := netip.ParseAddr(hop); err != nil {
			break
		}
		if host = hop; !s.options.trusts(hop) {
			break
		}
	}
	return host
}

// SignOut implements StrictServerInterface.
func (s *Server) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	if err := s.lab.SignOut(ctx, actor(ctx), cookie(ctx, s.sessionCookie())); err != nil {
		return nil, err
	}
	s.setCookie(ctx, s.sessionCookie(), "", -1)
	return SignOut204Response{}, nil
}

// ListPeople implements StrictServerInterface.
func (s *Server) ListPeople(ctx context.Context, _ ListPeopleRequestObject) (ListPeopleResponseObject, error) {
	people, err := s.lab.People(ctx)
	return ListPeople200JSONResponse(each(people, wireAccount)), err
}

// CreatePerson implements StrictServerInterface.
func (s *Server) CreatePerson(ctx context.Context, r CreatePersonRequestObject) (CreatePersonResponseObject, error) {
	account, err := s.lab.CreatePerson(ctx, actor(ctx), newAccount(*r.Body))
	return CreatePerson201JSONResponse(wireAccount(account)), err
}

// ChangePerson implements StrictServerInterface.
func (s *Server) ChangePerson(ctx context.Context, r ChangePersonRequestObject) (ChangePersonResponseObject, error) {
	change := lab.AccountChange{Active: r.Body.Active, Password: r.Body.Password, Role: (*string)(r.Body.Role)}
	account, err := s.lab.ChangePerson(ctx, actor(ctx), r.Id, change)
	return ChangePerson200JSONResponse(wireAccount(account)), err
}

func wireAccount(a store.Account) Account {
	return Account{Id: a.ID, Name: a.Name, Initials: a.Initials, Login: a.Login, Role: Role(a.Role), Active: a.Active}
}
