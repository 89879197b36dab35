# Starts the JVM; read by both launchers, which set: java (the command), classpath, archive (a file of class data, made here when it is
# missing; its folder may be one that cannot be written to).

# An empty last element would be the current folder, which may be anybody's.
classpath=${classpath%:}

# A static archive holds more of the classes than one that the JVM makes at exit, so it is made from a list.
make_archive() {
    mkdir -p "$(dirname "$archive")" 2>/dev/null && list=$(mktemp "$archive.XXXXXX" 2>/dev/null) || return 0
    "$java" -Xshare:off -XX:DumpLoadedClassList="$list" -cp "$classpath" warden.cli.Main demo -q >/dev/null 2>&1 &&
        "$java" -Xshare:dump -XX:SharedClassListFile="$list" -XX:SharedArchiveFile="$archive.$$" -cp "$classpath" >/dev/null 2>&1 &&
        mv "$archive.$$" "$archive"
    rm -f "$list" "$archive.$$"
}

[ -f "$archive" ] || make_archive || true

# Java reads file names by the locale; without one that is UTF-8 it would not find files whose names have other letters.
case ${LC_ALL:-${LC_CTYPE:-${LANG:-}}} in
    *[Uu][Tt][Ff]*8*) ;;
    *) LC_ALL=C.UTF-8 && export LC_ALL ;;
esac

# The second compiler pays off only where the same work is done a million times.
tier=1
for argument; do
    case $argument in --questions* | --activity*) tier=4 ;; esac
done

# Only the shell can tell whether somebody reads the output on a terminal, and how wide that is.
columns=none
if [ -t 1 ]; then
    size=$({ stty size </dev/tty; } 2>/dev/null) || size=
    columns=${size#* }
    [ -n "$columns" ] || columns=0
fi

# ArchiveRelocationMode: moving the archive's pointers to another address at each start takes longer than all that --version does.
# MaxNewSize: what was read stays to the end, so that a large survey needs its heap for old objects.
exec "$java" -Xshare:auto -XX:SharedArchiveFile="$archive" -XX:+IgnoreUnrecognizedVMOptions -XX:+UnlockDiagnosticVMOptions \
    -XX:ArchiveRelocationMode=0 -Xlog:disable -Xlog:all=off -XX:+UseSerialGC -XX:MaxNewSize=192m -XX:TieredStopAtLevel=$tier \
    -Dwarden.columns="$columns" -cp "$classpath" warden.cli.Main "$@"
