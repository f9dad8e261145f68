.PHONY: test assets demo release

test:
	./test

demo:
	go run ./cmd/gladember demo

# Needs node 20.19 or newer; what it builds is committed.
assets:
	cd assets && npm ci --ignore-scripts && node build.mjs

release:
	@mkdir -p dist
	@for os in linux darwin windows; do for arch in amd64 arm64; do \
		ext=; [ $$os = windows ] && ext=.exe; \
		CGO_ENABLED=0 GOOS=$$os GOARCH=$$arch go build -trimpath -ldflags "-s -w -X main.Version=$${VERSION:-dev}" -o dist/gladember-$$os-$$arch$$ext ./cmd/gladember || exit 1; \
	done; done
	@cd dist && sha256sum gladember-* > SHA256SUMS
