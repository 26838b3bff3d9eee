package server_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestParametersInThePathAreReadAsTheyWereMeant(t *testing.T) {
	address := serve(t)
	profile := `{"document":"{\"@context\":\"https://www.w3.org/2022/wot/td/v1.1\",\"@type\":\"tm:ThingModel\",\"title\":\"Lamp\",\"amvek:model\":\"Größe 7: a\",\"amvek:what\":\"lamp\",\"amvek:maker\":\"Test\",\"properties\":{\"on\":{\"title\":\"On\",\"type\":\"boolean\"}}}"}`
	made := call(t, http.MethodPost, address+"/api/profiles", profile)
	require.Equal(t, http.StatusOK, made.status, made.body)
	for _, path := range []string{"Gr%C3%B6%C3%9Fe%207%3A%20a", "Gr%c3%b6%c3%9fe%207:%20a"} {
		read := call(t, http.MethodGet, address+"/api/profiles/"+path, "")
		assert.Equal(t, http.StatusOK, read.status, read.body)
		assert.Contains(t, read.body, "Größe 7: a")
	}
	none := call(t, http.MethodGet, address+"/api/profiles/Gr%25C3%25B6", "")
	assert.Equal(t, http.StatusNotFound, none.status, "decoded once, not twice")
}
