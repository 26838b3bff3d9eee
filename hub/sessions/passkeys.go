package sessions

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"net/netip"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"
)

const (
	// passkeysAtMost is how many a person has at most.
	passkeysAtMost = 20
	// ceremonyFor is how long somebody may take to show a passkey, or to make one.
	ceremonyFor = 5 * time.Minute
	// ceremoniesAtMost bounds how many are under way: the oldest makes room.
	ceremoniesAtMost = 200
)

// Passkey is one by which somebody comes in (Web Authentication Level 3), as its owner sees it.
type Passkey struct {
	ID string `json:"id"`
	// Site is the name of the hub for which it was made: it works for no other.
	Site string    `json:"site" doc:"The name of the hub for which it was made: it works for no other."`
	On   string    `json:"on" doc:"What it was made on."`
	Made time.Time `json:"made"`
	Used time.Time `json:"used,omitzero"`
}

// keptPasskey is a passkey as it is kept: no secret, for that is with its owner.
type keptPasskey struct {
	Passkey
	Credential webauthn.Credential `json:"credential"`
}

// Offer is what a browser is asked for.
type Offer struct {
	// Ceremony names it among those under way.
	Ceremony string `json:"ceremony"`
	// Options are those of navigator.credentials, in their JSON form.
	Options json.RawMessage `json:"options" doc:"Options of navigator.credentials in the JSON form of Web Authentication."`
}

// ceremony is one that is under way.
type ceremony struct {
	person string // who makes a passkey; "" where one is shown
	made   time.Time
	data   webauthn.SessionData
}

// ErrPasskey is that a passkey is not one that lets anybody in here; [ErrNoName] that browsers make none for an address.
var (
	ErrPasskey = errors.New("this passkey lets nobody in here")
	ErrNoName  = errors.New("browsers have passkeys for names alone, over HTTPS or at the machine itself")
)

// site returns whom passkeys are made for that a browser asked by an origin.
func site(origin, title string) (*webauthn.WebAuthn, error) {
	u, err := url.Parse(origin)
	if err != nil || u.Hostname() == "" {
		return nil, ErrNoName
	}
	if _, err := netip.ParseAddr(u.Hostname()); err == nil || u.Scheme != "https" && u.Hostname() != "localhost" {
		return nil, ErrNoName
	}
	required := true
	return webauthn.New(&webauthn.Config{
		RPID: strings.ToLower(u.Hostname()), RPDisplayName: title, RPOrigins: []string{origin},
		AuthenticatorSelection: protocol.AuthenticatorSelection{
			RequireResidentKey: &required, ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired,
		},
		ExtensionsUnsolicitedOutputPolicy: protocol.UnsolicitedOutputPolicyIgnore,
	})
}

// holder is a person as passkeys know them: by an id that tells nobody else who they are.
type holder struct {
	id, title string
	keys      []webauthn.Credential
}

func (h *holder) WebAuthnID() []byte                         { return []byte(h.id) }
func (h *holder) WebAuthnName() string                       { return h.title }
func (h *holder) WebAuthnDisplayName() string                { return h.title }
func (h *holder) WebAuthnCredentials() []webauthn.Credential { return h.keys }

// OfferPasskey begins the making of a passkey for a person, at a hub that was asked for by an origin. It fails with [ErrNoName]
// where browsers make none.
func (s *Sessions) OfferPasskey(ctx context.Context, person, title, origin, home string) (Offer, error) {
	at, err := site(origin, home)
	if err != nil {
		return Offer{}, err
	}
	kept, err := s.keptPasskeys(ctx, person)
	if err != nil {
		return Offer{}, err
	}
	who := &holder{id: person, title: title, keys: credentials(kept)}
	var has []protocol.CredentialDescriptor
	for i := range kept {
		has = append(has, kept[i].Credential.Descriptor())
	}
	options, data, err := at.BeginRegistration(who, webauthn.WithExclusions(has))
	if err != nil {
		return Offer{}, err
	}
	return s.beginCeremony(person, *data, options.Response)
}

// KeepPasskey ends the making of a passkey by what the browser answered; device is what it was made on.
func (s *Sessions) KeepPasskey(ctx context.Context, name, person, title, origin, home, device string, answer []byte) error {
	at, err := site(origin, home)
	if err != nil {
		return err
	}
	begun, there := s.endCeremony(name)
	if !there || begun.person != person {
		return ErrPasskey
	}
	parsed, err := protocol.ParseCredentialCreationResponseBytes(answer)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrPasskey, err)
	}
	made, err := at.CreateCredential(&holder{id: person, title: title}, begun.data, parsed)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrPasskey, err)
	}
	s.passkeys.Lock()
	defer s.passkeys.Unlock()
	kept, err := s.keptPasskeys(ctx, person)
	if err != nil {
		return err
	}
	kept = append(kept, keptPasskey{
		Passkey:    Passkey{ID: base64.RawURLEncoding.EncodeToString(made.ID), Site: at.Config.RPID, On: device, Made: s.now()},
		Credential: *made,
	})
	if len(kept) > passkeysAtMost {
		kept = kept[len(kept)-passkeysAtMost:]
	}
	return s.keepPasskeys(ctx, person, kept)
}

// AskPasskey asks a browser for a passkey, of whomever.
func (s *Sessions) AskPasskey(origin, home string) (Offer, error) {
	at, err := site(origin, home)
	if err != nil {
		return Offer{}, err
	}
	options, data, err := at.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return Offer{}, err
	}
	return s.beginCeremony("", *data, options.Response)
}

// ByPasskey returns whom a passkey lets in. It fails with [ErrPasskey] where that is nobody.
func (s *Sessions) ByPasskey(ctx context.Context, name, origin, home string, answer []byte) (person string, err error) {
	at, err := site(origin, home)
	if err != nil {
		return "", err
	}
	begun, there := s.endCeremony(name)
	if !there || begun.person != "" {
		return "", ErrPasskey
	}
	parsed, err := protocol.ParseCredentialRequestResponseBytes(answer)
	if err != nil {
		return "", fmt.Errorf("%w: %w", ErrPasskey, err)
	}
	s.passkeys.Lock()
	defer s.passkeys.Unlock()
	var kept []keptPasskey
	_, used, err := at.ValidatePasskeyLogin(func(_, handle []byte) (webauthn.User, error) {
		person = string(handle)
		var err error
		if kept, err = s.keptPasskeys(ctx, person); err != nil {
			return nil, err
		}
		return &holder{id: person, keys: credentials(kept)}, nil
	}, begun.data, parsed)
	if err != nil {
		return "", fmt.Errorf("%w: %w", ErrPasskey, err)
	}
	if used.Authenticator.CloneWarning { // its count went back: there is a second one of it
		return "", fmt.Errorf("%w: it seems to be a copy of another", ErrPasskey)
	}
	for i := range kept {
		if slices.Equal(kept[i].Credential.ID, used.ID) {
			kept[i].Credential, kept[i].Used = *used, s.now()
		}
	}
	return person, s.keepPasskeys(ctx, person, kept)
}

// Passkeys returns those of a person.
func (s *Sessions) Passkeys(ctx context.Context, person string) ([]Passkey, error) {
	kept, err := s.keptPasskeys(ctx, person)
	if err != nil {
		return nil, err
	}
	list := make([]Passkey, 0, len(kept))
	for i := range kept {
		list = append(list, kept[i].Passkey)
	}
	return list, nil
}

// DropPasskey forgets one of a person's passkeys: it lets nobody in any more.
func (s *Sessions) DropPasskey(ctx context.Context, person, id string) error {
	s.passkeys.Lock()
	defer s.passkeys.Unlock()
	kept, err := s.keptPasskeys(ctx, person)
	if err != nil {
		return err
	}
	return s.keepPasskeys(ctx, person, slices.DeleteFunc(kept, func(k keptPasskey) bool { return k.ID == id }))
}

func credentials(kept []keptPasskey) []webauthn.Credential {
	all := make([]webauthn.Credential, 0, len(kept))
	for i := range kept {
		all = append(all, kept[i].Credential)
	}
	return all
}

func (s *Sessions) keptPasskeys(ctx context.Context, person string) ([]keptPasskey, error) {
	text, err := s.kept.Secret(ctx, passkeysOf(person))
	if err != nil || text == "" {
		return nil, err
	}
	var kept []keptPasskey
	if err := json.Unmarshal([]byte(text), &kept); err != nil {
		return nil, errors.New("the passkeys that are kept cannot be read")
	}
	return kept, nil
}

func (s *Sessions) keepPasskeys(ctx context.Context, person string, kept []keptPasskey) error {
	data, err := json.Marshal(kept)
	if err != nil {
		return err
	}
	return s.kept.PutSecret(ctx, passkeysOf(person), string(data))
}

func passkeysOf(person string) string { return "passkeys of " + person }

func (s *Sessions) beginCeremony(person string, data webauthn.SessionData, options any) (Offer, error) {
	text, err := json.Marshal(options)
	if err != nil {
		return Offer{}, err
	}
	name := rand.Text()
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.ceremonies == nil {
		s.ceremonies = map[string]ceremony{}
	}
	if len(s.ceremonies) >= ceremoniesAtMost {
		oldest := ""
		for other, c := range s.ceremonies {
			if oldest == "" || c.made.Before(s.ceremonies[oldest].made) {
				oldest = other
			}
		}
		delete(s.ceremonies, oldest)
	}
	s.ceremonies[name] = ceremony{person, s.now(), data}
	return Offer{name, text}, nil
}

// endCeremony returns one that is under way; it can be ended once, and in time.
func (s *Sessions) endCeremony(name string) (ceremony, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	begun, there := s.ceremonies[name]
	delete(s.ceremonies, name)
	passed := s.now().Sub(begun.made)
	return begun, there && passed >= 0 && passed < ceremonyFor
}
