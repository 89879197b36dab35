# ---- what follows is the same in every folder ----

stop() {
    printf 'gentle-warden: %s\n' "$1" >&2
    if [ -n "$finished" ]; then printf 'Finished: step%s.\n' "$finished" >&2; else printf 'No step was finished.\n' >&2; fi
    printf 'Started again, it goes on where it stopped.\n' >&2
    exit 1
}

# Prints each value of a JSON document with its place, so that two documents can be compared whatever their layout and the order of members.
places() {
    awk '
    function fail() { bad = 1; exit 1 }
    function space() { while (at <= length(doc) && index(" \t\r\n", substr(doc, at, 1))) at++ }
    function hex(digits,   i, n) {
        n = 0
        for (i = 1; i <= 4; i++) n = n * 16 + index("0123456789abcdef", tolower(substr(digits, i, 1))) - 1
        return n
    }
    function text(   c, out, code) {
        out = ""
        at++
        while (at <= length(doc)) {
            c = substr(doc, at, 1)
            if (c == "\"") { at++; return "\"" out "\"" }
            if (c == "\\") {
                c = substr(doc, at + 1, 1)
                if (c == "/") { out = out "/"; at += 2; continue }
                if (c == "u") {
                    code = hex(substr(doc, at + 2, 4))
                    if (code >= 32 && code < 127 && code != 34 && code != 92) out = out sprintf("%c", code)
                    else out = out "\\u" tolower(substr(doc, at + 2, 4))
                    at += 6
                    continue
                }
                out = out "\\" c
                at += 2
                continue
            }
            out = out c
            at++
        }
        fail()
    }
    function value(place,   c, n, name, begin) {
        space()
        c = substr(doc, at, 1)
        if (c == "{") {
            at++; space()
            if (substr(doc, at, 1) == "}") { at++; print place "={}"; return }
            while (1) {
                space()
                if (substr(doc, at, 1) != "\"") fail()
                name = text()
                space()
                if (substr(doc, at, 1) != ":") fail()
                at++
                value(place "." name)
                space()
                c = substr(doc, at, 1)
                at++
                if (c == "}") return
                if (c != ",") fail()
            }
        }
        if (c == "[") {
            at++; space(); n = 0
            if (substr(doc, at, 1) == "]") { at++; print place "=[]"; return }
            while (1) {
                value(place "[" n "]")
                n++
                space()
                c = substr(doc, at, 1)
                at++
                if (c == "]") return
                if (c != ",") fail()
            }
        }
        if (c == "\"") { print place "=" text(); return }
        begin = at
        while (at <= length(doc) && !index(" \t\r\n,]}", substr(doc, at, 1))) at++
        if (at == begin) fail()
        print place "=" substr(doc, begin, at - begin)
    }
    { doc = doc $0 "\n" }
    END {
        if (bad) exit 1
        at = 1
        value("")
        space()
        if (at <= length(doc)) exit 1
    }' "$1" > "$work/places" || return 1
    sort "$work/places"
}

# An empty file stands for a document that is not there.
same() {
    if [ ! -s "$1" ] || [ ! -s "$2" ]; then
        [ ! -s "$1" ] && [ ! -s "$2" ]
        return
    fi
    places "$1" > "$work/one" || return 1
    places "$2" > "$work/other" || return 1
    cmp -s "$work/one" "$work/other"
}

# Puts the identifiers that the service gave in the place of their names.
filled() {
    if [ -f "$1" ]; then sed -f "$work/names" < "$1" > "$2"; else : > "$2"; fi
}

# Reads a document: look FILE "CODES OF ABSENCE" PROGRAM ARGUMENT...
look() {
    into=$1
    codes=$2
    shift 2
    if "$@" > "$into" 2> "$work/error"; then
        [ -s "$into" ] || printf '{}\n' > "$into"
        return
    fi
    for code in $codes; do
        # One command line writes the code between brackets, the other as it came.
        if grep -q -e "($code)" -e "\"code\": *\"$code\"" "$work/error"; then
            : > "$into"
            return
        fi
    done
    cat "$work/error" >&2
    stop "the document could not be read; nothing was changed by this step"
}

# Remembers what the service calls something: name "PATTERN" IDENTIFIER
name() {
    case $2 in
        '' | *[!A-Za-z0-9]*) stop "the service gave an identifier that is none: $2" ;;
    esac
    printf 's/%s/%s/g\n' "$1" "$2" >> "$work/names"
}

finish() {
    finished="$finished $1"
    printf '%s\n' "$1" >> "$record"
}

# True where all these steps were finished before, under other credentials perhaps.
finished_before() {
    [ -f "$record" ] || return 1
    for number in $1; do
        grep -q -x "$number" "$record" || return 1
    done
}

settle() {
    "settle_$1" || stop "step $1 is made, and is not in effect everywhere yet"
}

refused() {
    stop "step $1 was refused by the service: $2"
}

# One step that changes a document: step NUMBER FOLDER TITLE WANTED EXPECTED "MORE DOCUMENTS THAT SAY IT IS DONE"
step() {
    filled "steps/$2/$4.json" "$work/wanted.json"
    filled "steps/$2/$5.json" "$work/expected.json"
    "read_$1" "$work/now.json"
    isdone=
    same "$work/now.json" "$work/wanted.json" && isdone=yes
    for later in $6; do
        filled "steps/$later/$4.json" "$work/later.json"
        same "$work/now.json" "$work/later.json" && isdone=yes
    done
    if [ -n "$isdone" ]; then
        settle "$1"
        printf 'step %s: it is so already: %s\n' "$1" "$3"
        finish "$1"
        return
    fi
    same "$work/now.json" "$work/expected.json" || stop "step $1 ($3) is not made: what is there now is neither what was surveyed nor what is to be; take a new survey and mend again"
    printf 'step %s: %s\n' "$1" "$3"
    "write_$1" || refused "$1" "$3"
    settle "$1"
    finish "$1"
}
