# Starts the JVM; read by both launchers, which set: java (the command's file), cli (the program's own jar), jars (the folder that holds all jars, or
# whose folders do), libraries (the folder that holds the others), archives (where archives of classes are kept; it may be one that cannot be
# written to). What the shell does by itself takes no process: each takes as long as a twentieth of a bare JVM.

# The jar's name says the version; that takes no JVM.
case $#${1:-} in
    1--version | 1-V)
        version=${cli##*/cli-}
        printf 'gentle-warden %s\n' "${version%.jar}" 2>/dev/null && exit 0
        echo "gentle-warden: standard output cannot be written" >&2
        exit 2
        ;;
esac

# What names nothing of the other jars is given to the JVM's own loader, which takes a class from the archive at once; the loader of programs is
# asked in Java for each, a tenth of a start. BootJarsIT holds that they may stand there.
boot=
classpath=$cli
for jar in "$libraries"/*.jar; do
    case ${jar##*/} in
        core-[0-9]*.jar | report-[0-9]*.jar | jackson-core-3*.jar | java-diff-utils-*.jar | jspecify-*.jar | jte-runtime-*.jar | picocli-*.jar | snakeyaml-engine-*.jar)
            boot=$boot:$jar
            ;;
        *) [ "$jar" = "$cli" ] || classpath=$classpath:$jar ;;
    esac
done
boot=-Xbootclasspath/a$boot

# An archive serves the Java that made it, and no other. From 25 on there is one that holds more than classes.
real=$(readlink -f "$java" 2>/dev/null) || real=$java
major=0
if [ -r "${real%/bin/java}/release" ]; then
    while IFS= read -r line; do
        case $line in JAVA_VERSION=*)
            major=${line#*\"}
            major=${major%%[!0-9]*}
            ;;
        esac
    done <"${real%/bin/java}/release"
fi

# Names a file after paths.
name_after() {
    set -f
    IFS=/
    # shellcheck disable=SC2086
    set -- $*
    IFS=+
    name=$*
    unset IFS
    set +f
}
name_after "$cli" "$real"
# File systems take 255 bytes; of a longer name a sum has to do.
[ ${#name} -le 120 ] || {
    name=$(printf '%s' "$name" | cksum)
    name=${name%% *}-${name##* }
}
archive=$archives/$name
if [ "${major:-0}" -ge 25 ]; then archive=$archive.aot; else archive=$archive.jsa; fi

# ArchiveRelocationMode: moving the archive's pointers to another address at each start takes longer than all that a small command does.
# MaxNewSize: what was read stays to the end, so that a large survey needs its heap for old objects.
common="-XX:+IgnoreUnrecognizedVMOptions -XX:+UnlockDiagnosticVMOptions -XX:ArchiveRelocationMode=0 -Xlog:disable -Xlog:all=off
    -XX:MaxNewSize=192m"

# At most so long, and behind everything else that runs.
bounded() {
    if command -v timeout >/dev/null 2>&1; then
        nice -n 19 timeout 300 "$@" &
    else
        nice -n 19 "$@" &
    fi
    wait $!
}

# True when a jar is newer than this file.
has_newer_jar() {
    for jar in "$jars"/*.jar "$jars"/*/*.jar; do
        [ "$jar" -nt "$1" ] && return 0
    done
    return 1
}

# Makes the archive, for later commands: a rehearsal shows which classes they need. All that is written before it is whole lies in one folder.
make_archive() {
    mkdir -p "$archives" 2>/dev/null || return 0
    making=$archive.making
    # One that is older than the bounds allow was killed.
    [ -z "$(find "$making" -prune -mmin +15 2>/dev/null)" ] || rm -rf "$making"
    mine=
    # Where another is making it already, there is no job to end.
    trap 'kill ${!:-} 2>/dev/null || true; [ -z "$mine" ] || rm -rf "$making"' EXIT
    trap 'exit 1' HUP INT TERM
    mkdir "$making" 2>/dev/null || return 0
    mine=1
    : >"$making/begun"
    # shellcheck disable=SC2086
    case $archive in
        *.aot)
            # Linked ahead of time, all classes would be loaded at each start, whatever the command needs of them.
            bounded "$java" "$boot" -XX:+UseSerialGC $common -Xmx512m -XX:TieredStopAtLevel=1 -XX:-AOTClassLinking -XX:AOTCacheOutput="$making/archive" -cp "$classpath" \
                warden.cli.WarmUp
            ;;
        *)
            bounded "$java" "$boot" -XX:+UseSerialGC $common -Xmx512m -XX:TieredStopAtLevel=1 -Xshare:off -XX:DumpLoadedClassList="$making/classes" \
                -cp "$classpath" warden.cli.WarmUp &&
                bounded "$java" "$boot" -XX:+UseSerialGC $common -Xshare:dump -XX:SharedClassListFile="$making/classes" \
                    -XX:SharedArchiveFile="$making/archive" -cp "$classpath"
            ;;
    esac
    # A jar that was replaced meanwhile is not the one whose classes these are. No JVM would take them, and each start would be slow.
    [ -s "$making/archive" ] && ! has_newer_jar "$making/begun" || return 0
    touch -r "$making/begun" "$making/archive"
    mv "$making/archive" "$archive"
}

# An archive that is older than a jar, or than Java, belongs to another version.
if [ -f "$archive" ]; then
    if [ "$real" -nt "$archive" ] || has_newer_jar "$archive"; then
        rm -f "$archive" 2>/dev/null || true
    fi
fi
if [ -f "$archive" ]; then
    case $archive in
        *.aot) use=-XX:AOTCache=$archive ;;
        *) use=-XX:SharedArchiveFile=$archive ;;
    esac
else
    # The command that was typed does not wait for it, nor does who reads its output: redirected as a call, a shell would keep the old output open.
    (
        exec </dev/null >/dev/null 2>&1
        make_archive
    ) &
    use=-Xshare:auto
fi

# Java reads file names by the locale; without one that is UTF-8 it would not find files whose names have other letters.
case ${LC_ALL:-${LC_CTYPE:-${LANG:-}}} in
    *[Uu][Tt][Ff]*8*) ;;
    *) LC_ALL=C.UTF-8 && export LC_ALL ;;
esac

# True for a file of more than 2 MB, and for a folder of surveys.
is_large() {
    case $1 in -*) return 1 ;; esac
    [ -d "$1" ] || { [ -f "$1" ] && [ -n "$(find -H "$1" -prune -size +4096 2>/dev/null)" ]; }
}

# True for a folder of thousands of files.
has_many() {
    case $1 in -*) return 1 ;; esac
    [ -d "$1" ] && [ -n "$(find -H "$1" -type f 2>/dev/null | sed -n '2000{p;q;}')" ]
}

# The second compiler pays off only where the same work is done a million times, or with thousands of pages; a second thread that collects garbage
# only where large documents are read or turned into others, or a million rows are kept.
tier=1
collector=Serial
named=
every=
large=
before=
for argument; do
    case $argument in
        --questions* | --inventory*) tier=4 ;;
        --activity*) tier=4 collector=Parallel ;;
        --template*) collector=Parallel ;;
        --all) every=1 ;;
    esac
    case $argument in
        --*=*) option=${argument%%=*} value=${argument#*=} ;;
        *) option=$before value=$argument ;;
    esac
    case $option in
        -s | --survey) named=1 && is_large "$value" && large=1 ;;
        --publish) has_many "$value" && tier=4 collector=Parallel ;;
    esac
    before=$argument
done
if [ -z "$named" ] && is_large survey.ndjson; then large=1; fi

# What is still in use when garbage is collected stays to the end, with a large survey: it is moved once, to old objects, for which there is room
# from the beginning. Else it is copied several times over, and all of it again at each step by which the heap grows.
if [ -n "$large" ]; then
    collector=Parallel
    common="$common -XX:MaxTenuringThreshold=0 -XX:InitialRAMPercentage=12"
fi

# What only prints what the program knows, or follows one address, has ended before most of its code, compiled, would pay off.
brief=
case ${1:-} in
    checks | completion | --help | -h) brief=1 ;;
    trace) [ -n "$every$large" ] || brief=1 ;;
esac
patience=
[ -z "$brief" ] || patience="-XX:Tier3InvocationThreshold=2000 -XX:Tier3MinInvocationThreshold=1000 -XX:Tier3CompileThreshold=5000"

# Only the shell can tell whether somebody reads the output on a terminal, and how wide that is.
columns=none
if [ -t 1 ]; then
    size=$({ stty size </dev/tty; } 2>/dev/null) || size=
    columns=${size#* }
    [ -n "$columns" ] || columns=0
fi

# shellcheck disable=SC2086
exec "$java" "$boot" "$use" "-XX:+Use${collector}GC" $common -XX:TieredStopAtLevel=$tier $patience -Dwarden.columns="$columns" -cp "$classpath" warden.cli.Main "$@"
