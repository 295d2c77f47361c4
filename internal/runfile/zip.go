package runfile

import (
	"archive/zip"
	"io"
	"strings"
)

// unzip reads each file of a package. Names are shown without where they lay: nothing is ever written under them.
func unzip(name string, at io.ReaderAt, size int64, o Options, give func(Found) error) error {
	z, err := zip.NewReader(at, size)
	if err != nil {
		return give(Found{Name: name, Refused: "is a damaged ZIP: pack it again"})
	}
	if len(z.File) > mostFiles {
		return give(Found{Name: name, Refused: "holds more than 5,000 files: pack fewer at once"})
	}
	all := int64(0) // as it came out, whatever the package says
	for _, f := range z.File {
		file := clean(f.Name)
		if f.FileInfo().IsDir() || strings.HasPrefix(file, ".") || strings.HasPrefix(f.Name, "__MACOSX/") {
			continue
		}
		var found Found
		switch {
		case f.Flags&1 != 0:
			found = Found{Name: file, Refused: "is locked with a password: unpack it first"}
		case all > mostAll || f.UncompressedSize64 > 1<<20 && f.UncompressedSize64 > mostSwell*f.CompressedSize64:
			found = Found{Name: file, Refused: "swells far more than a file of a watch does when it is unpacked: it is not read"}
		default:
			s := source{file, f.Open}
			if strings.HasSuffix(strings.ToLower(file), ".gz") {
				s = unpacked(s)
			}
			found = s.read(o)
			all += found.Size
		}
		if err := give(found); err != nil {
			return err
		}
	}
	return nil
}
