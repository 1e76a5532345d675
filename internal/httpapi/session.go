package httpapi

import (
	"context"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

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
	account, err := s.lab.CreateFirst(ctx, newAccount(*r.Body))
	if err != nil {
		return nil, err
	}
	token, err := s.lab.Begin(ctx, account)
	if err != nil {
		return nil, err
	}
	s.setCookie(ctx, cookieName, token, cookieLife)
	return CreateFirstInstructor201JSONResponse(wireAccount(account)), nil
}

// GetSession implements StrictServerInterface.
func (s *Server) GetSession(ctx context.Context, _ GetSessionRequestObject) (GetSessionResponseObject, error) {
	return GetSession200JSONResponse(wireAccount(actor(ctx).Account)), nil
}

// SignIn implements StrictServerInterface.
func (s *Server) SignIn(ctx context.Context, r SignInRequestObject) (SignInResponseObject, error) {
	in, err := s.lab.SignIn(ctx, r.Body.Login, r.Body.Password, lab.Attempt{Address: s.clientAddress(ctx), Device: cookie(ctx, deviceCookie)})
	if err != nil {
		return nil, err
	}
	s.setCookie(ctx, cookieName, in.Token, cookieLife)
	s.setCookie(ctx, deviceCookie, in.Device, deviceLife)
	return SignIn200JSONResponse(wireAccount(in.Account)), nil
}

// ChangeOwnPassword implements StrictServerInterface.
func (s *Server) ChangeOwnPassword(ctx context.Context, r ChangeOwnPasswordRequestObject) (ChangeOwnPasswordResponseObject, error) {
	err := s.lab.ChangeOwnPassword(ctx, actor(ctx), cookie(ctx, cookieName), r.Body.Current, r.Body.Password, s.clientAddress(ctx))
	return ChangeOwnPassword204Response{}, err
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
	if err := s.lab.SignOut(ctx, actor(ctx), cookie(ctx, cookieName)); err != nil {
		return nil, err
	}
	s.setCookie(ctx, cookieName, "", -1)
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
