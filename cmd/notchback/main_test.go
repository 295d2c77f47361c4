package main

import (
	"context"
	"net"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestATakenPort(t *testing.T) {
	first, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer first.Close()
	_, err = listen(first.Addr().String(), false)
	assert.ErrorContains(t, err, "is taken by another program; choose another with -bind")
	next, err := listen(first.Addr().String(), true)
	require.NoError(t, err, "the demo takes the next free one")
	defer next.Close()
	assert.NotEqual(t, first.Addr().String(), next.Addr().String())
}

func TestWrongWordsSayWhatToSay(t *testing.T) {
	for _, c := range []struct {
		args []string
		want string
	}{
		{nil, "say demo, serve"},
		{[]string{"dance"}, `there is no "dance"`},
		{[]string{"practice", "Only a name"}, `"Practice" "Coach" coach@example.org`},
		{[]string{"code"}, "./notchback code coach@example.org"},
		{[]string{"serve", "-bind", "127.0.0.1:99999"}, "listening on 127.0.0.1:99999"},
		{[]string{"serve", "-bind", "127.0.0.1:0", "-database-url", "postgres://nobody:x@127.0.0.1:1/postgres"}, "connecting as administrator"},
	} {
		assert.ErrorContains(t, run(context.Background(), c.args), c.want)
	}
}
