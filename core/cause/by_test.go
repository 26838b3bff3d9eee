package cause_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/cause"
)

// Somebody sees what happens at a page, at a panel and at the device itself; whoever calls by a program, or runs by itself, does not.
func TestWhoAttends(t *testing.T) {
	for who, attends := range map[cause.Who]bool{
		cause.Nobody: false, cause.Person: true, cause.Panel: true, cause.Program: false, cause.Device: true, cause.Rule: false, cause.Schedule: false,
	} {
		assert.Equal(t, attends, cause.By{Who: who, Via: cause.ViaPage}.Attends(), "%q", who)
	}
	assert.Equal(t, "hand:page:tove", cause.By{Who: cause.Person, ID: "tove", Via: cause.ViaPage}.Hand())
	assert.Equal(t, "hand:page", cause.By{Who: cause.Person, Via: cause.ViaPage}.Hand())
	assert.Equal(t, "hand:panel", cause.By{Who: cause.Panel, Via: cause.ViaPanel}.Hand())
}
