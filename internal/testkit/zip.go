package testkit

import (
	"archive/zip"
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"
)

// Zip packs files by their names.
func Zip(t testing.TB, files map[string][]byte) []byte {
	t.Helper()
	var pack bytes.Buffer
	z := zip.NewWriter(&pack)
	for name, data := range files {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write(data)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return pack.Bytes()
}
