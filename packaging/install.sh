# Sourced by ./elbrix: puts Elbrix into the user's own menus, and takes it out again. Nothing outside the user's folders is touched.
# Works under any POSIX shell.

id=org.elbrix.Elbrix
data="${XDG_DATA_HOME:-$HOME/.local/share}"
bin="$HOME/.local/bin"

elbrix_places() {  # source in packaging/, place in the user's data folder
    echo "$id.desktop applications/$id.desktop"
    echo "$id.metainfo.xml metainfo/$id.metainfo.xml"
    echo "$id-mime.xml mime/packages/$id-mime.xml"
    echo "$id.svg icons/hicolor/scalable/apps/$id.svg"
    echo "elbrix.1 man/man1/elbrix.1"
}

elbrix_refresh() {  # the desktop's caches, where it has any
    command -v update-mime-database >/dev/null 2>&1 && [ -d "$data/mime" ] && update-mime-database "$data/mime" >/dev/null 2>&1
    command -v update-desktop-database >/dev/null 2>&1 && [ -d "$data/applications" ] && update-desktop-database -q "$data/applications"
    return 0
}

elbrix_install() {
    elbrix_places | while read -r from to; do
        mkdir -p "$data/$(dirname "$to")" && cp "$here/packaging/$from" "$data/$to" || exit 1
    done || { echo "Nothing could be written into $data. Check its rights." >&2; return 1; }
    # The entry starts this checkout, wherever it is: quoted as the desktop entry rules ask.
    quoted=$(printf '%s' "$here/elbrix" | sed 's/\\/\\\\\\\\/g; s/"/\\\\"/g; s/`/\\\\`/g; s/\$/\\\\$/g; s/%/%%/g')
    awk -v run="\"$quoted\" %f" '/^Exec=/ { print "Exec=" run; next } { print }' "$here/packaging/$id.desktop" >"$data/applications/$id.desktop"
    if [ ! -e "$bin/elbrix" ] || [ -L "$bin/elbrix" ]; then
        mkdir -p "$bin" && ln -sf "$here/elbrix" "$bin/elbrix"
    else
        echo "$bin/elbrix is something else and was left alone."
    fi
    elbrix_refresh
    echo "Elbrix is in the menu and opens .elbrix books. Take it away again with: ./elbrix uninstall"
}

elbrix_uninstall() {
    elbrix_places | while read -r _ to; do rm -f "$data/$to"; done
    [ -L "$bin/elbrix" ] && [ "$(readlink "$bin/elbrix")" = "$here/elbrix" ] && rm -f "$bin/elbrix"
    elbrix_refresh
    echo "Elbrix is out of the menu. Your books and settings stay where they are."
}
