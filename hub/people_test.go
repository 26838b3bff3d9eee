package hub

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestAFloodOfWhatIsKeptOutIsCounted(t *testing.T) {
	var p people
	now := time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)
	note, is := p.keepOut("a page of there.", now)
	assert.True(t, is)
	assert.Equal(t, "a page of there.", note)
	_, is = p.keepOut("a page of there.", now.Add(time.Second))
	assert.False(t, is, "the same again")
	note, is = p.keepOut("a page of there.", now.Add(time.Minute))
	assert.True(t, is)
	assert.Equal(t, "a page of there. One more was kept out before.", note)
	written := 0
	for i := range 10_000 {
		if _, is := p.keepOut(fmt.Sprint(i), now.Add(90*time.Second)); is {
			written++
		}
	}
	assert.Equal(t, 19, written, "whatever they are called")
	assert.LessOrEqual(t, len(p.out.said), keptOutAtMost)
	note, _ = p.keepOut("x.", now.Add(3*time.Minute))
	assert.Equal(t, "x. 9981 more were kept out before.", note)
}
