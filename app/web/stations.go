package web

import (
	"gladember/app/web/air"
	"gladember/app/web/box"
	"gladember/app/web/build"
	"gladember/app/web/buy"
	"gladember/app/web/cut"
	"gladember/app/web/debates"
	"gladember/app/web/install"
	"gladember/app/web/journal"
	"gladember/app/web/logs"
	"gladember/app/web/need"
	"gladember/app/web/place"
	"gladember/app/web/safety"
	"gladember/app/web/season"
	"gladember/app/web/stock"
	"gladember/app/web/switches"
	"gladember/app/web/trials"
	"gladember/app/web/ui"
	"gladember/app/web/versions"
)

// stations lists the pages of a heater, those in the list of stations in the order of the work. A new one is a folder and a line
// here.
func stations() []*ui.Station {
	return []*ui.Station{
		place.New(),
		need.New(),
		stock.New(),
		box.New(),
		air.New(),
		switches.New(),
		cut.New(),
		buy.New(),
		build.New(),
		install.New(),
		trials.New(),
		logs.New(),
		season.New(),
		debates.New(),
		versions.New(),
		safety.New(),
		journal.New(),
	}
}
