package account

import "strings"

// Device names a browser and its machine by what the browser says of itself: "Firefox on Linux". It keeps no versions.
func Device(agent string) string {
	first := func(of ...[2]string) string {
		for _, x := range of {
			if strings.Contains(agent, x[0]) {
				return x[1]
			}
		}
		return ""
	}
	browser := first([2]string{"Edg/", "Edge"}, [2]string{"Firefox/", "Firefox"}, [2]string{"Chrome/", "Chrome"}, [2]string{"Safari/",
		"Safari"})
	machine := first([2]string{"Android", "Android"}, [2]string{"iPhone", "iPhone"}, [2]string{"iPad", "iPad"}, [2]string{"Windows",
		"Windows"},
		[2]string{"Mac OS", "a Mac"}, [2]string{"Linux", "Linux"})
	switch {
	case browser == "" && machine == "":
		return "another program"
	case machine == "":
		return browser
	case browser == "":
		return "a browser on " + machine
	}
	return browser + " on " + machine
}
