package instrument

import (
	"net"
	"strings"
	"testing"
)

func TestWhereInstrumentsMayStand(t *testing.T) {
	reach, err := ParseReach("192.168.1.0/24, 10.0.5.7/32 fe80::/10 169.254.0.0/16 fd00::/8")
	if err != nil {
		t.Fatal(err)
	}
	for address, says := range map[string]string{
		"127.0.0.1:4001": "", "localhost:4001": "", "[::1]:4001": "", "127.9.9.9:1": "", "192.168.1.20:4001": "", "10.0.5.7:4001": "", "[fd00::1]:4001": "",
		"[::ffff:192.168.1.20]:4001": "", "192.168.2.20:4001": "not in a network", "10.0.5.8:4001": "not in a network", "8.8.8.8:53": "not in a network",
		"169.254.169.254:80": "no instrument", "[fe80::1]:80": "no instrument", "[fe80::1%25eth0]:80": "no instrument", "0.0.0.0:80": "no instrument",
		"[::]:80": "no instrument", "224.0.0.1:80": "no instrument", "balance.example:4001": "is a number", "2130706433:80": "is a number",
		"0x7f000001:80": "is a number", "192.168.1.20": "host:port", ":4001": "host:port", "192.168.1.20:": "host:port", "": "host:port",
		"[::ffff:169.254.169.254]:80": "no instrument",
	} {
		if err := reach.Check(address); (err == nil) != (says == "") || err != nil && !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v, want %q", address, err, says)
		}
	}
	for _, wrong := range []string{"192.168.1.20", "nonsense", "192.168.1.0/33"} {
		if _, err := ParseReach(wrong); err == nil {
			t.Errorf("%s is treated as a network", wrong)
		}
	}
}

// What does not say what instrument it is is not spoken to any further: a web server is
// not tared.
func TestOnlyInstrumentsAreSpokenTo(t *testing.T) {
	for answer, ok := range map[string]bool{
		"HTTP/1.1 400 Bad Request\r\n": false, "220 mail ready\r\n": false, "+OK\r\n": false, "a,b,c\n": false, ",,,\n": false, "Maker,Model,1,2\n": true,
	} {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		heard := make(chan string, 1)
		go func() {
			conn, err := listener.Accept()
			if err != nil {
				return
			}
			_, _ = conn.Write([]byte(answer))
			all := ""
			for buffer := make([]byte, 100); ; {
				n, err := conn.Read(buffer)
				if all += string(buffer[:n]); err != nil {
					heard <- all
					return
				}
			}
		}()
		c, err := Open(t.Context(), listener.Addr().String())
		if (err == nil) != ok {
			t.Errorf("%q: %v", answer, err)
		}
		if err == nil {
			_ = c.Close()
		}
		if said := <-heard; said != "*IDN?\n" {
			t.Errorf("%q was told %q", answer, said)
		}
		_ = listener.Close()
	}
}
