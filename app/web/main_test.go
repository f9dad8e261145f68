package web_test

import (
	"testing"

	"gladember/app/web/webtest"
)

func TestMain(m *testing.M) { webtest.Main(m) }
