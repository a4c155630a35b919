# Sourced by ./elbrix and ./check. Makes .venv beside the checkout from the pinned list; a second start only compares two stamps.
# Works under any POSIX shell.

elbrix_python() {
    for name in python3.11 python3.12 python3.13 python3; do
        if command -v "$name" >/dev/null 2>&1 && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            command -v "$name"
            return 0
        fi
    done
    echo "Elbrix needs Python 3.11 or newer; none was found on this machine." >&2
    echo "Install it with:  apt-get install python3.11 python3.11-venv" >&2
    return 1
}

# System libraries that Qt and the geometry kernel load; library file -> Debian package.
elbrix_libraries() {
    wanted="libGL.so.1:libgl1 libEGL.so.1:libegl1 libX11.so.6:libx11-6 libexpat.so.1:libexpat1 libfontconfig.so.1:libfontconfig1
        libdbus-1.so.3:libdbus-1-3 libxkbcommon.so.0:libxkbcommon0 libxkbcommon-x11.so.0:libxkbcommon-x11-0 libglib-2.0.so.0:libglib2.0-0
        libxcb-cursor.so.0:libxcb-cursor0 libxcb-icccm.so.4:libxcb-icccm4 libxcb-image.so.0:libxcb-image0 libxcb-keysyms.so.1:libxcb-keysyms1
        libxcb-randr.so.0:libxcb-randr0 libxcb-render-util.so.0:libxcb-render-util0 libxcb-shape.so.0:libxcb-shape0 libxcb-xkb.so.1:libxcb-xkb1"
    found=$( { ldconfig -p 2>/dev/null || /sbin/ldconfig -p 2>/dev/null; } )
    missing=""
    for pair in $wanted; do
        case "$found" in *"${pair%%:*}"*) ;; *) missing="$missing ${pair##*:}" ;; esac
    done
    [ -z "$missing" ] && return 0
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
        echo "Installing system libraries:$missing"
        apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null && return 0
    fi
    echo "Elbrix needs system libraries that are not here. Install them with:" >&2
    echo "    sudo apt-get install$missing" >&2
    return 1
}

elbrix_setup() {  # run | dev
    lock="$here/requirements/$1.lock"
    venv="$here/.venv"
    stamp="$venv/elbrix-$1.stamp"
    want=$(cat "$here/requirements/run.lock" "$lock" "$here/pyproject.toml" | cksum)
    [ "$(cat "$stamp" 2>/dev/null)" = "$want" ] && [ -x "$venv/bin/elbrix" ] && return 0
    elbrix_libraries || return 1
    python=$(elbrix_python) || return 1
    if [ ! -x "$venv/bin/python" ] || ! "$venv/bin/python" -m pip --version >/dev/null 2>&1; then
        echo "Making the environment in $venv"
        rm -rf "$venv"
        if ! "$python" -m venv "$venv"; then
            if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
                version=$("$python" -c 'import sys; print("python%d.%d-venv" % sys.version_info[:2])')
                rm -rf "$venv"; apt-get update -qq; apt-get install -y -qq "$version" && "$python" -m venv "$venv" || return 1
            else
                echo "Python's venv module is missing. Install it with:  sudo apt-get install python3-venv" >&2
                return 1
            fi
        fi
    fi
    echo "Installing what Elbrix uses (once; about 300 MB)"
    "$venv/bin/python" -m pip install -q --disable-pip-version-check -r "$lock" || return 1
    "$venv/bin/python" -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e "$here" || return 1
    "$venv/bin/python" -m compileall -q "$here/src" || true  # the first start is then as quick as the second
    printf '%s\n' "$want" >"$stamp"
    [ "$1" = dev ] && printf '%s\n' "$(cat "$here/requirements/run.lock" "$here/requirements/run.lock" "$here/pyproject.toml" | cksum)" >"$venv/elbrix-run.stamp"
    return 0
}
