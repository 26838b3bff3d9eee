package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// asProgram makes the test program the real one, so that a test can kill it.
const asProgram = "AMVEK_AS_PROGRAM"

func TestMain(m *testing.M) {
	if os.Getenv(asProgram) != "" {
		main()
		return
	}
	os.Exit(m.Run())
}

// TestNothingThatWasAcknowledgedIsLostByAKill kills the hub at random moments while definitions are made and changed, during
// its start too, as a power cut does: whatever was acknowledged is there afterwards, and the hub starts.
func TestNothingThatWasAcknowledgedIsLostByAKill(t *testing.T) {
	kills := 4
	if n, err := strconv.Atoi(os.Getenv("AMVEK_KILLS")); err == nil {
		kills = n
	}
	folder := t.TempDir()
	chance := rand.New(rand.NewPCG(28, 11))
	acknowledged := map[string]string{} // titles by ids
	tried, during := 0, 0
	for kill := range kills {
		if kill%50 == 49 { // another home, so that none grows without end
			folder = t.TempDir()
			clear(acknowledged)
		}
		program := exec.Command(os.Args[0], "serve", "--open", "--listen", "127.0.0.1:0", "--mqtt-listen", "127.0.0.1:0", "--data", folder)
		program.Env = append(os.Environ(), asProgram+"=1")
		said, err := program.StdoutPipe()
		require.NoError(t, err)
		program.Stderr = io.Discard
		require.NoError(t, program.Start())
		if kill%5 == 4 { // while it starts
			time.AfterFunc(time.Duration(chance.IntN(150))*time.Millisecond, func() { _ = program.Process.Kill() })
			_, _ = io.Copy(io.Discard, said)
			_ = program.Wait()
			during++
			continue
		}
		address := ""
		for lines := bufio.NewScanner(said); address == "" && lines.Scan(); {
			if match := ready.FindStringSubmatch(lines.Text() + "\n"); match != nil {
				address = match[1]
			}
		}
		require.NotEmpty(t, address, "it starts after kill %d", kill)
		go func() { _, _ = io.Copy(io.Discard, said) }()
		var rooms struct {
			Rooms []struct{ ID, Title string } `json:"rooms"`
		}
		response, err := http.Get("http://" + address + "/api/home")
		require.NoError(t, err)
		require.NoError(t, json.NewDecoder(response.Body).Decode(&rooms))
		_ = response.Body.Close()
		there := map[string]string{}
		for _, r := range rooms.Rooms {
			there[r.ID] = r.Title
		}
		for id, title := range acknowledged {
			assert.Equal(t, title, there[id], "after kill %d", kill)
		}
		var needs []any
		response, err = http.Get("http://" + address + "/api/needs")
		require.NoError(t, err)
		require.NoError(t, json.NewDecoder(response.Body).Decode(&needs))
		_ = response.Body.Close()
		assert.Empty(t, needs)

		var mu sync.Mutex
		var writers sync.WaitGroup
		for writer := range 4 {
			seed := chance.Uint64()
			writers.Go(func() {
				mine := rand.New(rand.NewPCG(seed, 1))
				own := "" // each changes rooms of its own, so that the last that was acknowledged is the one to be there
				for i := 0; ; i++ {
					title := fmt.Sprintf("Room %d of %d, %d", i, writer, kill)
					method, path := http.MethodPost, "/api/rooms"
					if own != "" && mine.IntN(3) > 0 {
						method, path = http.MethodPut, "/api/rooms/"+own
						mu.Lock()
						delete(acknowledged, own) // until it is acknowledged, either will do
						mu.Unlock()
					}
					body, _ := json.Marshal(map[string]any{"title": title, "order": 1})
					request, err := http.NewRequest(method, "http://"+address+path, bytes.NewReader(body))
					if err != nil {
						return
					}
					request.Header.Set("Content-Type", "application/json")
					response, err := http.DefaultClient.Do(request)
					if err != nil {
						return // killed
					}
					answer, err := io.ReadAll(response.Body)
					_ = response.Body.Close()
					var saved struct{ ID string }
					if err != nil || response.StatusCode != http.StatusOK || json.Unmarshal(answer, &saved) != nil {
						return
					}
					mu.Lock()
					acknowledged[saved.ID], own = title, saved.ID
					tried++
					mu.Unlock()
				}
			})
		}
		time.AfterFunc(time.Duration(20+chance.IntN(200))*time.Millisecond, func() { _ = program.Process.Kill() })
		writers.Wait()
		_ = program.Wait()
		if len(acknowledged) > 400 { // of the oldest it is known by now
			for id := range acknowledged {
				if delete(acknowledged, id); len(acknowledged) <= 200 {
					break
				}
			}
		}
	}
	t.Logf(
		"%d kills, %d of them during a start; %d definitions were acknowledged%s",
		kills,
		during,
		tried,
		strings.Repeat(", none lost", map[bool]int{true: 1}[!t.Failed()]),
	)
}
