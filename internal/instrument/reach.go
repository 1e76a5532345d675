package instrument

import (
	"errors"
	"fmt"
	"net"
	"net/netip"
	"slices"
	"strings"
)

// Reach is where instruments may stand: on this machine always, and in the networks that
// the installation names.
type Reach []netip.Prefix

// ParseReach reads networks like "192.168.1.0/24, 10.0.5.7/32".
func ParseReach(text string) (Reach, error) {
	var reach Reach
	for _, part := range strings.FieldsFunc(text, func(c rune) bool { return c == ',' || c == ' ' }) {
		network, err := netip.ParsePrefix(part)
		if err != nil {
			return nil, fmt.Errorf("“%s” is not a network like 192.168.1.0/24", part)
		}
		reach = append(reach, network.Masked())
	}
	return reach, nil
}

// Check says why an instrument may not be at an address, host:port; nil when it may. The
// host is a number, since a name may lead elsewhere tomorrow. Link-local addresses, where
// machines keep secrets for themselves, are never reached.
func (r Reach) Check(address string) error {
	host, port, err := net.SplitHostPort(address)
	if err != nil || host == "" || port == "" {
		return errors.New("an address is host:port, like 192.168.1.20:4001")
	}
	if host == "localhost" {
		host = "127.0.0.1"
	}
	ip, err := netip.ParseAddr(host)
	if err != nil {
		return fmt.Errorf("the address of an instrument is a number, like 192.168.1.20:4001, not “%s”", host)
	}
	ip = ip.Unmap()
	switch {
	case ip.Zone() != "", ip.IsLinkLocalUnicast(), ip.IsMulticast(), ip.IsUnspecified():
		return fmt.Errorf("no instrument is reached at %s", host)
	case ip.IsLoopback(), slices.ContainsFunc(r, func(p netip.Prefix) bool { return p.Contains(ip) }):
		return nil
	}
	return fmt.Errorf("%s is not in a network of instruments: whoever runs the program names it in VIALBENCH_INSTRUMENT_NETWORKS", host)
}
