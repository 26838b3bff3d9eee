package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOfThePicturesThatAPanelTookTheNewestAreKept(t *testing.T) {
	s := open(t, t.TempDir())
	began := time.UnixMilli(1_800_000_000_000)
	for i := range 5 {
		require.NoError(t, s.AddPanelPicture(t.Context(), "galley", began.Add(time.Duration(i)*time.Second), []byte{byte(i)}, 3))
	}
	require.NoError(t, s.AddPanelPicture(t.Context(), "hall", began, []byte("hall"), 3))
	made, err := s.PanelPictures(t.Context(), "galley")
	require.NoError(t, err)
	require.Len(t, made, 3)
	assert.Equal(t, began.Add(4*time.Second), made[0])
	newest, err := s.PanelPicture(t.Context(), "galley", made[0])
	require.NoError(t, err)
	assert.Equal(t, []byte{4}, newest)
	gone, err := s.PanelPicture(t.Context(), "galley", began)
	require.NoError(t, err)
	assert.Nil(t, gone)
	require.NoError(t, s.DropPanelPictures(t.Context(), "galley"))
	made, err = s.PanelPictures(t.Context(), "galley")
	require.NoError(t, err)
	assert.Empty(t, made)
	made, err = s.PanelPictures(t.Context(), "hall")
	require.NoError(t, err)
	assert.Len(t, made, 1)
}
