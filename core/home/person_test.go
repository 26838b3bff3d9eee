package home_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"amvek/core/home"
)

func TestAPerson(t *testing.T) {
	tomorrow := time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		person home.Person
		wrong  string
	}{
		"a member":              {home.Person{Title: "Tove", Role: home.Member}, ""},
		"without a name":        {home.Person{Title: " ", Role: home.Member}, "title: give the person a name"},
		"an owner until":        {home.Person{Title: "Nell", Role: home.Owner, Until: tomorrow}, "until: only a guest is out again at a time"},
		"a dashboard twice":     {home.Person{Title: "Ada", Role: home.Guest, Dashboards: []string{"a", "a"}}, "dashboards[1]: a dashboard is given twice, or none was chosen"},
		"a dashboard of nobody": {home.Person{Title: "Ada", Role: home.Guest, Dashboards: []string{""}}, "dashboards[0]: a dashboard is given twice, or none was chosen"},
	} {
		if err := c.person.Check(); c.wrong == "" {
			assert.NoError(t, err, name)
		} else {
			assert.EqualError(t, err, c.wrong, name)
		}
	}
	guest := home.Person{Title: "Ada", Role: home.Guest, Until: tomorrow}
	assert.True(t, guest.In(tomorrow.Add(-time.Second)))
	assert.False(t, guest.In(tomorrow))
	assert.True(t, (&home.Person{}).In(tomorrow))
}
