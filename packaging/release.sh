#!/bin/bash
# Builds the program for all systems: packed with its notices and what starts it, and their sums beside them.
#   packaging/release.sh VERSION FLAGS      into var/release
set -euo pipefail
version=$1
flags=$2
out=var/release
rm -rf "$out"
mkdir -p "$out"
for target in linux/amd64 linux/arm64 windows/amd64 darwin/amd64 darwin/arm64; do
	system=${target%/*}
	processor=${target#*/}
	name=steptrace-$version-$system-$processor
	folder=$out/$name
	program=steptrace
	[ "$system" = windows ] && program=steptrace.exe
	mkdir "$folder"
	CGO_ENABLED=0 GOOS=$system GOARCH=$processor go build -trimpath -ldflags "$flags" -o "$folder/$program" ./cmd/steptrace
	gzip -dc web/dist/notices.txt.gz >"$folder/notices.txt"
	[ "$system" = linux ] && cp packaging/steptrace.service packaging/steptrace.desktop web/public/icon.svg "$folder/"
	tar -C "$out" --sort=name --owner=0 --group=0 --numeric-owner -czf "$out/$name.tar.gz" "$name"
	rm -r "$folder"
	echo "$name.tar.gz"
done
(cd "$out" && sha256sum ./*.tar.gz >SHA256SUMS)
