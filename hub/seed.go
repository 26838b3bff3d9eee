package hub

import (
	"context"
	"crypto/rand"
	"encoding/binary"
	"fmt"
	"strconv"
)

const seedSetting = "seed"

// seed returns what everything left to chance in this home comes from.
func (h *Hub) seed(ctx context.Context) (uint64, error) {
	text, err := h.store.Setting(ctx, seedSetting)
	if err != nil {
		return 0, fmt.Errorf("reading the settings: %w", err)
	}
	if seed, err := strconv.ParseUint(text, 36, 64); err == nil {
		return seed, nil
	}
	made := make([]byte, 8)
	_, _ = rand.Read(made)
	seed := binary.BigEndian.Uint64(made)
	return seed, h.store.PutSetting(ctx, seedSetting, strconv.FormatUint(seed, 36))
}
