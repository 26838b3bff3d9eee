package discovery

import (
	"context"
	"io"
	"log"
	"net"
	"testing"
	"time"

	"github.com/hashicorp/mdns"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAServiceAnswersStraightWithoutAnyRoute(t *testing.T) {
	loopback, err := net.InterfaceByName("lo")
	require.NoError(t, err)
	const domain = "straight-answers.local"
	service, err := mdns.NewMDNSService("Box", "_wot._tcp", domain+".", "box."+domain+".", 8080, []net.IP{net.IPv4(127, 0, 0, 1)}, []string{"td=/things"})
	require.NoError(t, err)
	server, err := mdns.NewServer(&mdns.Config{Zone: service, Iface: loopback, Logger: log.New(io.Discard, "", 0)})
	require.NoError(t, err)
	defer func() { _ = server.Shutdown() }()
	found := Network{Domain: domain, Interface: loopback}.answersAt(context.Background(), "_wot._tcp", 500*time.Millisecond)
	require.Len(t, found, 1)
	assert.Equal(t, "127.0.0.1:8080", found[0].Address)
	assert.Equal(t, map[string]string{"td": "/things"}, found[0].Texts)
	assert.Empty(t, Network{Domain: "elsewhere.local", Interface: loopback}.answersAt(context.Background(), "_wot._tcp", 50*time.Millisecond))
}
