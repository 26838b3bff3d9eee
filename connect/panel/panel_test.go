package panel_test

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/connecttest"
	"amvek/connect/panel"
	"amvek/core/thing"
)

// tablet is a panel that answers what it is told.
type tablet struct {
	hears  func([]byte)
	leaves func()
	orders []panel.Order
	answer func(panel.Order) panel.Said
}

func (b *tablet) says(t *testing.T, said panel.Said) {
	data, err := json.Marshal(said)
	require.NoError(t, err)
	b.hears(data)
}

// at attaches a tablet that answers by a function; nil answers nothing.
func at(t *testing.T, panels *panel.Panels, address string, answer func(panel.Order) panel.Said) *tablet {
	b := &tablet{answer: answer}
	b.hears, b.leaves = panels.Attach(address, func(o panel.Order) error {
		b.orders = append(b.orders, o)
		if b.answer != nil {
			go func() {
				said := b.answer(o)
				said.Done = o.Order
				b.says(t, said)
			}()
		}
		return nil
	})
	return b
}

// reports are what panels said of themselves.
func reports(heard *connecttest.Heard) (all []string) {
	for _, line := range heard.Lines() {
		for _, name := range []string{panel.Lit, panel.Battery, panel.Charging} {
			if strings.HasPrefix(line, "galley "+name+" ") {
				all = append(all, line)
			}
		}
	}
	return all
}

// faults are what was refused of what panels said.
func faults(heard *connecttest.Heard) (all []string) {
	for _, line := range heard.Lines() {
		if strings.HasPrefix(line, "fault") {
			all = append(all, line)
		}
	}
	return all
}

func running(t *testing.T) (*panel.Panels, *connecttest.Heard, context.CancelFunc) {
	panels, heard := panel.New(), connecttest.NewHeard()
	ctx, stop := context.WithCancel(t.Context())
	go panels.Run(ctx, heard)
	synctest.Wait()
	return panels, heard, stop
}

func TestAPanelSaysHowItIs(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, heard, stop := running(t)
		defer stop()
		panels.Select(map[string]bool{"galley": true, "landing": true})
		galley := at(t, panels, "galley", nil)
		galley.says(t, panel.Said{Property: panel.Lit, Value: thing.Boolean(true)})
		galley.says(t, panel.Said{Property: panel.Lit, Value: thing.Boolean(true)})
		galley.says(t, panel.Said{Property: panel.Battery, Value: thing.Number(81)})
		assert.Equal(t, []string{"galley lit true", "galley battery 81"}, reports(heard), "what is as before is not told again")
		heard.AwaitLast(t, "reach galley", "true")
		heard.AwaitLast(t, "reach landing", "false The panel is not connected.")
		galley.leaves()
		heard.AwaitLast(t, "reach galley", "false The panel is not connected.")
	})
}

func TestNonsenseIsToldAndChangesNothing(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, heard, stop := running(t)
		defer stop()
		galley := at(t, panels, "galley", nil)
		galley.hears([]byte("{"))
		galley.hears([]byte(`{"property":"temperature","value":20}`))
		galley.hears([]byte(`{"property":"battery","value":101}`))
		galley.hears([]byte(`{"property":"lit","value":"yes"}`))
		galley.hears([]byte(`{"done":77}`))
		assert.Empty(t, reports(heard))
		assert.Len(t, faults(heard), 4)
	})
}

func TestAKeyOfAPanelGoesDownAndUp(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, heard, stop := running(t)
		defer stop()
		galley := at(t, panels, "galley", nil)
		galley.says(t, panel.Said{Event: "key2", Value: thing.Text("down")})
		galley.says(t, panel.Said{Event: "key2", Value: thing.Text("up")})
		assert.Equal(t, 1, heard.Count("galley key2! down"))
		heard.AwaitLast(t, "galley key2!", "up")
		galley.hears([]byte(`{"event":"key9","value":"down"}`))
		galley.hears([]byte(`{"event":"key2","value":"sideways"}`))
		galley.hears([]byte(`{"event":"key2"}`))
		assert.Len(t, faults(heard), 3)
		assert.Equal(t, 0, heard.Count("sideways!"))
	})
}

func TestAPanelIsToldWhatToDo(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, _, stop := running(t)
		defer stop()
		galley := at(t, panels, "galley", func(o panel.Order) panel.Said {
			switch {
			case o.Action == panel.ShowDashboard:
				return panel.Said{Failed: "There is no such dashboard."}
			case o.Picture != "":
				return panel.Said{Picture: "aGFsbG8="}
			}
			return panel.Said{}
		})
		ctx := t.Context()
		assert.True(t, panels.Write(ctx, "galley", panel.Lit, thing.Boolean(false), 0).OK)
		assert.Equal(t, thing.Boolean(false), *galley.orders[0].Value)
		outcome := panels.Invoke(ctx, "galley", panel.ShowDashboard, thing.Inputs{"dashboard": thing.Text("Attic")})
		assert.Equal(t, "There is no such dashboard.", outcome.Reason)
		assert.False(t, outcome.Unreached)
		picture, err := panels.Picture(ctx, "galley", panel.View)
		require.NoError(t, err)
		assert.Equal(t, "hallo", string(picture.Data))

		assert.True(t, panels.Write(ctx, "landing", panel.Lit, thing.Boolean(true), 0).Unreached)
		_, err = panels.Picture(ctx, "landing", panel.View)
		assert.ErrorContains(t, err, "The panel is not connected")
	})
}

func TestAPanelThatDoesNotAnswerIsNotReached(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, _, stop := running(t)
		defer stop()
		began := time.Now()
		galley := at(t, panels, "galley", nil)
		assert.Equal(t, "The panel did not answer in time.", panels.Write(t.Context(), "galley", panel.Lit, thing.Boolean(true), 0).Reason)
		assert.Less(t, time.Since(began), time.Minute)

		// One that leaves meanwhile is not waited for.
		done := make(chan string)
		go func() { done <- panels.Write(t.Context(), "galley", panel.Lit, thing.Boolean(true), 0).Reason }()
		synctest.Wait()
		galley.leaves()
		assert.Equal(t, "The panel is not connected.", <-done)
		_, detach := panels.Attach("galley", func(panel.Order) error { return errors.New("it does not keep up") })
		assert.Equal(t, "It does not keep up.", panels.Write(t.Context(), "galley", panel.Lit, thing.Boolean(true), 0).Reason)
		detach()
	})
}

func TestTheNewestConnectionOfAPanelCounts(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, heard, stop := running(t)
		old := at(t, panels, "galley", nil)
		newer := at(t, panels, "galley", func(panel.Order) panel.Said { return panel.Said{} })
		old.leaves()
		assert.True(t, panels.Write(t.Context(), "galley", panel.Lit, thing.Boolean(true), 0).OK, "the old one goes, and the new one stays")
		assert.Empty(t, old.orders)

		// What it said while the connection was paused is told once that runs again.
		stop()
		synctest.Wait()
		newer.says(t, panel.Said{Property: panel.Charging, Value: thing.Boolean(true)})
		assert.Empty(t, reports(heard))
		again := connecttest.NewHeard()
		ctx, stop := context.WithCancel(t.Context())
		defer stop()
		go panels.Run(ctx, again)
		synctest.Wait()
		assert.Equal(t, []string{"galley charging true"}, reports(again))
	})
}

func TestEveryPanelIsDescribedWell(t *testing.T) {
	d := panel.Description()
	for _, p := range d.Properties {
		assert.NotEmpty(t, p.Title)
		assert.NotEqual(t, thing.RoleBrightness, p.Role, "a panel is no lamp")
		if p.Setting != nil {
			assert.NotEmpty(t, p.Setting.Wrong, p.Name)
		}
	}
	for i := range d.Actions {
		assert.NotEmpty(t, d.Actions[i].Title)
	}
}

func TestAPictureThatAPanelIsToldToTakeIsKept(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		panels, _, stop := running(t)
		defer stop()
		var kept []string
		var refuse error
		panels.KeepPictures(func(_ context.Context, address string, jpeg []byte) error {
			kept = append(kept, address+" "+string(jpeg))
			return refuse
		})
		picture := "anBlZw==" // jpeg
		b := at(t, panels, "galley", func(panel.Order) panel.Said { return panel.Said{Picture: picture} })
		take := func() string { return panels.Invoke(t.Context(), "galley", panel.TakePicture, nil).Reason }
		assert.Empty(t, take())
		assert.Equal(t, []string{"galley jpeg"}, kept)
		refuse = errors.New("the disk is full")
		assert.Equal(t, "The disk is full.", take())
		picture = ""
		assert.Equal(t, "The panel sent no picture.", take())
		b.answer = func(panel.Order) panel.Said { return panel.Said{Failed: "This panel takes no pictures."} }
		assert.Equal(t, "This panel takes no pictures.", take())
		assert.Len(t, kept, 2)
	})
}
