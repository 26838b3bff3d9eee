package hub

import (
	"errors"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/connect"
)

func TestOfSeveralWhoLookAtOnceACameraIsAskedOnce(t *testing.T) {
	synctest.Test(t, ofSeveralWhoLookAtOnce)
}

func ofSeveralWhoLookAtOnce(t *testing.T) {
	var p pictures
	asked := 0
	_, err := p.get("lens/now", func() (connect.Picture, error) { asked++; return connect.Picture{}, errors.New("no answer") })
	assert.EqualError(t, err, "no answer")
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			picture, err := p.get("lens/now", func() (connect.Picture, error) { asked++; return connect.Picture{Data: []byte("dark")}, nil })
			assert.NoError(t, err)
			assert.Equal(t, "dark", string(picture.Data))
		})
	}
	all.Wait()
	assert.Equal(t, 2, asked, "once in vain, which is not kept")
	other, err := p.get("door/now", func() (connect.Picture, error) { return connect.Picture{Data: []byte("light")}, nil })
	assert.NoError(t, err)
	assert.Equal(t, "light", string(other.Data))

	time.Sleep(pictureFor) // of the test's own clock
	synctest.Wait()
	picture, err := p.get("lens/now", func() (connect.Picture, error) { return connect.Picture{Data: []byte("dawn")}, nil })
	assert.NoError(t, err)
	assert.Equal(t, "dawn", string(picture.Data))
}
