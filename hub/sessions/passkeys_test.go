package sessions_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	device "github.com/descope/virtualwebauthn"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/hub/sessions"
)

// hubName and hubOrigin are by what a browser asks for the hub.
const (
	hubName   = "amvek.local"
	hubOrigin = "https://amvek.local:8420"
)

// phone makes passkeys and shows them, as a device does that belongs to a person.
type phone struct {
	party device.RelyingParty
	key   device.Credential
	of    string
}

// newKey makes a key whose coordinates are as long as they must be (RFC 9053 §7.1.1): the virtual device leaves out leading zeros.
func newKey() device.Credential {
	const whole = 77 // bytes of a COSE key of P-256
	for {
		if key := device.NewCredential(device.KeyTypeEC2); len(key.Key.AttestationData()) == whole {
			return key
		}
	}
}

func newPhone(of string) *phone {
	return &phone{device.RelyingParty{Name: "Mill", ID: hubName, Origin: hubOrigin}, newKey(), of}
}

func (p *phone) made(t *testing.T, offer sessions.Offer) []byte {
	options, err := device.ParseAttestationOptions(string(offer.Options))
	require.NoError(t, err)
	return []byte(device.CreateAttestationResponse(p.party, device.NewAuthenticator(), p.key, *options))
}

func (p *phone) shown(t *testing.T, offer sessions.Offer) []byte {
	options, err := device.ParseAssertionOptions(string(offer.Options))
	require.NoError(t, err)
	as := device.NewAuthenticatorWithOptions(device.AuthenticatorOptions{UserHandle: []byte(p.of)})
	return []byte(device.CreateAssertionResponse(p.party, as, p.key, *options))
}

func (p *phone) make(t *testing.T, s *sessions.Sessions) error {
	offer, err := s.OfferPasskey(t.Context(), p.of, "Tove", hubOrigin, "Mill")
	require.NoError(t, err)
	return s.KeepPasskey(t.Context(), offer.Ceremony, p.of, "Tove", hubOrigin, "Mill", "Chrome on Android", p.made(t, offer))
}

func (p *phone) signIn(t *testing.T, s *sessions.Sessions) (string, error) {
	offer, err := s.AskPasskey(hubOrigin, "Mill")
	require.NoError(t, err)
	return s.ByPasskey(t.Context(), offer.Ceremony, hubOrigin, "Mill", p.shown(t, offer))
}

func TestAPasskeyLetsItsPersonInAlsoAfterARestart(t *testing.T) {
	s, kept, c := opened(t)
	tove, nell := newPhone("tove"), newPhone("nell")
	require.NoError(t, tove.make(t, s))
	require.NoError(t, nell.make(t, s))
	s, err := sessions.Open(t.Context(), kept, c.now)
	require.NoError(t, err)
	c.at = c.at.Add(time.Hour)
	for _, p := range []*phone{tove, nell} {
		person, err := p.signIn(t, s)
		require.NoError(t, err)
		assert.Equal(t, p.of, person)
	}
	list, err := s.Passkeys(t.Context(), "tove")
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, []any{"Chrome on Android", hubName, c.at}, []any{list[0].On, list[0].Site, list[0].Used})

	require.NoError(t, s.DropPasskey(t.Context(), "tove", list[0].ID))
	_, err = tove.signIn(t, s)
	assert.ErrorIs(t, err, sessions.ErrPasskey)
	require.NoError(t, s.Forget(t.Context(), "nell"))
	_, err = nell.signIn(t, s)
	assert.ErrorIs(t, err, sessions.ErrPasskey)
}

func TestPasskeysThatLetNobodyIn(t *testing.T) {
	s, _, c := opened(t)
	tove := newPhone("tove")
	require.NoError(t, tove.make(t, s))
	ask := func() sessions.Offer {
		offer, err := s.AskPasskey(hubOrigin, "Mill")
		require.NoError(t, err)
		return offer
	}
	show := func(name, origin string, answer []byte) error {
		_, err := s.ByPasskey(t.Context(), name, origin, "Mill", answer)
		return err
	}
	offer := ask()
	answer := tove.shown(t, offer)
	require.NoError(t, show(offer.Ceremony, hubOrigin, answer))
	assert.ErrorIs(t, show(offer.Ceremony, hubOrigin, answer), sessions.ErrPasskey, "shown again")
	assert.ErrorIs(t, show(ask().Ceremony, hubOrigin, answer), sessions.ErrPasskey, "for another question")
	assert.ErrorIs(t, show("none", hubOrigin, answer), sessions.ErrPasskey)

	offer = ask()
	c.at = c.at.Add(5 * time.Minute)
	assert.ErrorIs(t, show(offer.Ceremony, hubOrigin, tove.shown(t, offer)), sessions.ErrPasskey, "late")
	offer = ask()
	c.at = c.at.Add(-time.Minute)
	assert.ErrorIs(t, show(offer.Ceremony, hubOrigin, tove.shown(t, offer)), sessions.ErrPasskey, "the clock was set back")

	making, err := s.OfferPasskey(t.Context(), "tove", "Tove", hubOrigin, "Mill")
	require.NoError(t, err)
	assert.ErrorIs(t, show(making.Ceremony, hubOrigin, tove.shown(t, making)), sessions.ErrPasskey, "to a question that was to make one")

	for name, change := range map[string]func(p *phone){
		"another key":              func(p *phone) { p.key.Key = newKey().Key },
		"another credential":       func(p *phone) { p.key = newKey() },
		"of somebody else":         func(p *phone) { p.of = "nell" },
		"of nobody":                func(p *phone) { p.of = "" },
		"for a page of elsewhere":  func(p *phone) { p.party.Origin = "https://evil.example.org" },
		"for another hub":          func(p *phone) { p.party.ID = "other.example.org" },
		"for another port of this": func(p *phone) { p.party.Origin = "https://amvek.local:9999" },
	} {
		wrong := *tove
		change(&wrong)
		_, err := wrong.signIn(t, s)
		assert.ErrorIs(t, err, sessions.ErrPasskey, name)
	}
	for _, nonsense := range []string{"", "null", "{}", `{"id":1}`, strings.Repeat("[", 10_000), `{"id":"AA","rawId":"AA","type":"public-key","response":{}}`} {
		offer := ask()
		assert.ErrorIs(t, show(offer.Ceremony, hubOrigin, []byte(nonsense)), sessions.ErrPasskey, "%.20s", nonsense)
	}

	// A copy of a passkey counts on its own.
	tove.key.Counter = 7
	_, err = tove.signIn(t, s)
	require.NoError(t, err)
	tove.key.Counter = 6
	_, err = tove.signIn(t, s)
	assert.ErrorIs(t, err, sessions.ErrPasskey, "its count went back")
}

func TestWhoMakesAPasskeyIsWhoeverItIsMadeFor(t *testing.T) {
	s, kept, _ := opened(t)
	tove := newPhone("tove")
	offer, err := s.OfferPasskey(t.Context(), "tove", "Tove", hubOrigin, "Mill")
	require.NoError(t, err)
	answer := tove.made(t, offer)
	keep := func(name, person string) error {
		return s.KeepPasskey(t.Context(), name, person, "Tove", hubOrigin, "Mill", "phone", answer)
	}
	assert.ErrorIs(t, keep(offer.Ceremony, "nell"), sessions.ErrPasskey)
	assert.ErrorIs(t, keep(offer.Ceremony, "tove"), sessions.ErrPasskey, "it was ended by the other")
	asked, err := s.AskPasskey(hubOrigin, "Mill")
	require.NoError(t, err)
	assert.ErrorIs(t, keep(asked.Ceremony, "tove"), sessions.ErrPasskey, "that was to show one")
	assert.Empty(t, kept.secrets)

	// No more than twenty: the oldest make room. No more are under way than two hundred.
	for range 22 {
		require.NoError(t, newPhone("tove").make(t, s))
	}
	list, err := s.Passkeys(t.Context(), "tove")
	require.NoError(t, err)
	assert.Len(t, list, 20)
	first, err := s.AskPasskey(hubOrigin, "Mill")
	require.NoError(t, err)
	for range 200 {
		_, err := s.AskPasskey(hubOrigin, "Mill")
		require.NoError(t, err)
	}
	_, err = s.ByPasskey(t.Context(), first.Ceremony, hubOrigin, "Mill", newPhone("tove").shown(t, first))
	assert.ErrorIs(t, err, sessions.ErrPasskey)
}

func TestPasskeysAreForNames(t *testing.T) {
	s, _, _ := opened(t)
	for origin, may := range map[string]bool{
		"http://localhost:8420": true, "https://home.example.org": true, "https://192.168.1.4:8420": false, "https://[fd00::1]:8420": false,
		"http://amvek.local:8420": false, "http://127.0.0.1:8420": false, "": false, "https://": false, "http://[": false,
	} {
		offer, err := s.AskPasskey(origin, "Mill")
		if !may {
			assert.ErrorIs(t, err, sessions.ErrNoName, origin)
			continue
		}
		require.NoError(t, err, origin)
		var options map[string]any
		require.NoError(t, json.Unmarshal(offer.Options, &options))
		assert.Contains(t, origin, fmt.Sprint("//", options["rpId"]))
	}
}
