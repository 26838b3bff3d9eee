package hub_test

import (
	"bytes"
	"context"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/core/rule"
	"amvek/hub"
	"amvek/hub/docs"
)

// nowhereInTheData fails where a text stands in any file of the data folder as it is.
func (b *bench) nowhereInTheData(text string) {
	b.Helper()
	files, err := os.ReadDir(b.folder)
	require.NoError(b, err)
	for _, f := range files {
		data, err := os.ReadFile(filepath.Join(b.folder, f.Name()))
		require.NoError(b, err)
		assert.False(b, bytes.Contains(data, []byte(text)), "%s stands in %s", text, f.Name())
	}
}

// answers returns the address of a server that keeps what it was asked for.
func answers(t *testing.T) (address string, asked chan string) {
	asked = make(chan string, 20)
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked <- r.URL.RequestURI()
		_, _ = w.Write([]byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nEND:VCALENDAR\r\n"))
	}))
	t.Cleanup(s.Close)
	return s.URL, asked
}

const sesame = "q7w8e9r0t1y2u3"

func TestKeysInAddressesAreKeptEncryptedAndShownNowhere(t *testing.T) {
	b := newBench(t)
	host, asked := answers(t)
	doc := &home.Calendar{Title: "Diary", Address: host + "/" + sesame + "/house.ics", EveryMinutes: 30, OwnMachine: true}
	b.save(docs.KindCalendar, "calendar-1", doc)
	require.NoError(t, b.hub.ReadCalendar(b.ctx, "calendar-1"))
	assert.Equal(t, "/"+sesame+"/house.ics", <-asked, "it is read with its key")
	shown, err := b.hub.Calendars(b.ctx)
	require.NoError(t, err)
	assert.Regexp(t, `/\(hidden-[a-z0-9]{12}\)/house\.ics$`, shown[0].Address)
	assert.Empty(t, shown[0].Failed)

	call := func(address string) *rule.Rule {
		return &rule.Rule{
			Title:   "Call",
			Enabled: true,
			Do:      []rule.Step{{Kind: rule.StepWeb, Address: address, OwnMachine: true}},
			When:    []rule.Trigger{{Kind: rule.OnPhrase, Words: "call"}},
		}
	}
	b.save(docs.KindRule, "rule-1", call(host+"/open?token="+sesame+"x"))
	_, err = b.hub.SaveDraft(b.ctx, "rule-1", 0, 1, call(host+"/open?token="+sesame+"y"))
	require.NoError(t, err)
	require.NoError(t, b.hub.TryStep(b.ctx, rule.Step{Kind: rule.StepWeb, Address: host + "/open?token=" + sesame + "z", OwnMachine: true}, somebody))
	for next := ""; next != "/open?token="+sesame+"z"; {
		next = <-asked
	}
	require.NoError(t, b.store.Flush(context.Background()))
	b.nowhereInTheData(sesame)

	// The title changes, the key stays; it goes on over a restart.
	b.stop()
	b.start()
	for len(asked) > 0 {
		<-asked
	}
	again := shown[0].Calendar
	again.Title = "Our diary"
	b.save(docs.KindCalendar, "calendar-1", &again)
	require.NoError(t, b.hub.ReadCalendar(b.ctx, "calendar-1"))
	assert.Equal(t, "/"+sesame+"/house.ics", <-asked)

	// It goes to no other host, and what is not known here is refused.
	other, _ := answers(t)
	moved := again
	moved.Address = other + again.Address[len(host):]
	_, err = b.hub.Save(b.ctx, hub.New{Kind: docs.KindCalendar, ID: "calendar-1", Document: &moved})
	assert.ErrorContains(t, err, "At another address somebody else may listen")
	moved.Address = host + "/(hidden-000000000000)/house.ics"
	_, err = b.hub.Save(b.ctx, hub.New{Kind: docs.KindCalendar, ID: "calendar-1", Document: &moved})
	assert.ErrorContains(t, err, "not known here")
	_, err = b.hub.Save(b.ctx, hub.New{Kind: docs.KindRule, ID: "rule-1", Document: call(`http://{value("own", "mode")}/?key=abc`)})
	assert.ErrorContains(t, err, "fixed host")
}

func TestKeysInAddressesOfBeforeAreHiddenAtTheStart(t *testing.T) {
	b := newBench(t)
	host, asked := answers(t)
	b.save(docs.KindCalendar, "calendar-1", &home.Calendar{Title: "Diary", Address: host + "/house.ics", EveryMinutes: 30, OwnMachine: true})
	b.damage(`UPDATE definitions SET document = replace(document, 'house.ics', '`+sesame+`') WHERE id = 'calendar-1'`,
		`UPDATE revisions SET document = replace(document, 'house.ics', '`+sesame+`') WHERE id = 'calendar-1'`,
		`DELETE FROM settings WHERE name = 'addresses hidden'`)
	for len(asked) > 0 {
		<-asked
	}
	require.NoError(t, b.hub.ReadCalendar(b.ctx, "calendar-1"))
	assert.Equal(t, "/"+sesame, <-asked)
	shown, err := b.hub.Calendars(b.ctx)
	require.NoError(t, err)
	assert.NotContains(t, shown[0].Address, sesame)
	earlier, err := b.store.Revisions(b.ctx, "calendar", "calendar-1", 10)
	require.NoError(t, err)
	for _, r := range earlier {
		assert.NotContains(t, string(r.Document), sesame)
	}
}

func TestACalendarOfThisMachineIsReadOnlyWhereItsOwnerSaysSo(t *testing.T) {
	b := newBench(t)
	host, asked := answers(t)
	doc := &home.Calendar{Title: "Diary", Address: host + "/house.ics", EveryMinutes: 30}
	b.save(docs.KindCalendar, "calendar-1", doc)
	require.NoError(t, b.hub.ReadCalendar(b.ctx, "calendar-1"))
	shown, err := b.hub.Calendars(b.ctx)
	require.NoError(t, err)
	assert.Contains(t, shown[0].Failed, "leads to this machine itself")
	assert.Empty(t, asked)
	allowed := *doc
	allowed.OwnMachine = true
	b.save(docs.KindCalendar, "calendar-1", &allowed)
	<-asked // at once, since it was changed
}
