package warden.gather.pipeline;

import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.pipeline.Operation;

/** Programs that work with no provider's stores: whether they build, test, or do neither, as far as their names and arguments tell. */
final class Programs {
    private static final Set<String> HARMLESS = Set.of(
            "set",
            "echo",
            "printf",
            "cd",
            "pushd",
            "popd",
            "pwd",
            "mkdir",
            "rm",
            "rmdir",
            "cp",
            "mv",
            "ls",
            "cat",
            "test",
            "[",
            "[[",
            "true",
            "false",
            ":",
            "exit",
            "unset",
            "date",
            "sleep",
            "touch",
            "chmod",
            "chown",
            "ln",
            "tar",
            "zip",
            "unzip",
            "gzip",
            "gunzip",
            "brotli",
            "sed",
            "awk",
            "grep",
            "egrep",
            "head",
            "tail",
            "cut",
            "tr",
            "sort",
            "uniq",
            "wc",
            "tee",
            "which",
            "type",
            "git",
            "jq",
            "yq",
            "read",
            "local",
            "return",
            "shift",
            "wait",
            "apt-get",
            "apt",
            "apk",
            "yum",
            "dnf",
            "brew",
            "pip",
            "pip3",
            "pipx",
            "corepack",
            "nvm",
            "n",
            "volta",
            "node",
            "python",
            "python3",
            "ruby",
            "gem",
            "composer",
            "poetry",
            "uv",
            "go",
            "cargo",
            "rsync",
            "ssh-add",
            "ssh-agent",
            "basename",
            "dirname",
            "realpath",
            "mktemp",
            "stat",
            "du",
            "df",
            "id",
            "whoami",
            "uname",
            "hostname",
            "env",
            "export",
            "declare",
            "readonly",
            "alias",
            "umask",
            "ulimit",
            "kill",
            "diff",
            "cmp",
            "md5sum",
            "sha256sum",
            "openssl",
            "base64",
            "seq",
            "xz",
            "install",
            "file",
            "sync",
            "break",
            "continue",
            "let",
            "hash");
    private static final Set<String> BUILDERS = Set.of(
            "make",
            "hugo",
            "jekyll",
            "mkdocs",
            "eleventy",
            "@11ty/eleventy",
            "gatsby",
            "next",
            "nuxt",
            "vite",
            "webpack",
            "rollup",
            "parcel",
            "tsc",
            "ng",
            "mvn",
            "mvnw",
            "gradle",
            "gradlew",
            "bundle",
            "rake",
            "sphinx-build",
            "pelican",
            "zola",
            "gulp",
            "grunt",
            "astro",
            "esbuild",
            "hexo",
            "docusaurus",
            "vitepress",
            "vuepress",
            "asciidoctor",
            "sass",
            "postcss",
            "tailwindcss",
            "react-scripts",
            "vue-cli-service",
            "middleman",
            "cobalt",
            "bun",
            "deno");
    private static final Set<String> TESTERS = Set.of(
            "pytest",
            "jest",
            "vitest",
            "cypress",
            "playwright",
            "htmlproofer",
            "eslint",
            "stylelint",
            "html-validate",
            "lychee",
            "pa11y",
            "lighthouse",
            "lhci",
            "mocha",
            "karma",
            "phpunit",
            "rspec",
            "shellcheck",
            "yamllint",
            "prettier",
            "markdownlint",
            "cspell",
            "tox");
    private static final Set<String> INTERPRETERS =
            Set.of("node", "python", "python3", "ruby", "php", "perl", "go", "deno", "bun");
    private static final Pattern BUILDS =
            Pattern.compile("(?i).*(build|generate|compile|bundle|export|prod|render|minify).*");
    private static final Pattern TESTS = Pattern.compile("(?i).*(test|lint|check|e2e|verify|spec|validate).*");
    private static final Pattern DEPLOYS =
            Pattern.compile("(?i).*(deploy|publish|release|upload|invalidat|purge|push|(?<!a)sync).*");

    /** Code that may reach a store: by a provider's library, another program, or a request. */
    private static final Pattern REACHES_OUT = Pattern.compile(
            "(?is).*(boto|\\baws|azure|\\bs3\\b|minio"
                    + "|child_process|subprocess|os\\.system|\\bsystem\\s*[('\"]|popen|\\bexec\\w*\\s*\\(|spawn|qx\\W|`"
                    + "|requests?\\.\\w+\\(|\\brequest\\(|urllib|https?\\.(get|request|client)|HTTP::|LWP|fetch\\(|axios|socket).*");

    private Programs() {}

    /**
     * Returns what a call does.
     *
     * @param arguments those after the program's name
     * @param isFed true when the script feeds it text that is not read: a here-document
     */
    static Operation operation(String program, List<String> arguments, boolean isFed) {
        String first = arguments.stream()
                .filter(text -> !text.startsWith("-"))
                .findFirst()
                .orElse("");
        String all = String.join(" ", arguments);
        if (TESTERS.contains(program)) {
            return new Operation.Test();
        }
        if (BUILDERS.contains(program)) {
            return mayPublish(all)
                    ? new Operation.NotUnderstood("what \"" + program + " " + first + "\" does is not in this file")
                    : TESTS.matcher(all).matches() ? new Operation.Test() : new Operation.Build();
        }
        if (INTERPRETERS.contains(program)) {
            return interpreted(program, first, all, isFed);
        }
        return HARMLESS.contains(program)
                ? new Operation.Nothing()
                : new Operation.NotUnderstood("the program " + program + " is not known");
    }

    /** True for a program that builds. */
    static boolean builds(String program) {
        return BUILDERS.contains(program);
    }

    /** True where the words say that something is published. */
    static boolean mayPublish(String text) {
        return DEPLOYS.matcher(text).matches();
    }

    /**
     * Returns what a script does that is not known, by its name.
     *
     * @param says what to say where its name does not tell
     */
    static Operation named(String script, String says) {
        if (mayPublish(script)) {
            return new Operation.NotUnderstood(says);
        }
        return TESTS.matcher(script).matches()
                ? new Operation.Test()
                : BUILDS.matcher(script).matches() ? new Operation.Build() : new Operation.NotUnderstood(says);
    }

    private static Operation interpreted(String program, String script, String all, boolean isFed) {
        boolean isInline = holdsCode(program, all);
        if (isInline) {
            return REACHES_OUT.matcher(all).matches() || mayPublish(all)
                    ? new Operation.NotUnderstood("what the " + program + " code in it does is not read")
                    : new Operation.Nothing();
        }
        if (isFed || all.equals("-")) {
            return new Operation.NotUnderstood("what is fed to " + program + " is not read");
        }
        if (script.isEmpty()) {
            return new Operation.Nothing();
        }
        String says = "what " + script + " does is not in this file";
        if (mayPublish(all)) {
            return new Operation.NotUnderstood(says);
        }
        boolean setsUp = program.equals("go") || all.startsWith("-m pip") || all.startsWith("-m venv");
        Operation byName = named(script, says);
        return setsUp && byName instanceof Operation.NotUnderstood ? new Operation.Nothing() : byName;
    }

    /** True where the code itself follows an option, perhaps behind other options. Source: the manual of each, "python -c", "node -e", "php -r". */
    private static boolean holdsCode(String program, String all) {
        String letters =
                switch (program) {
                    case "python", "python3" -> "c";
                    case "php" -> "r";
                    case "node", "deno", "bun" -> "ep";
                    default -> "e";
                };
        return Pattern.compile("(-\\S+\\s+)*?(-[a-zA-Z]*[" + letters + "]|--eval|--print)(\\s|$)")
                .matcher(all)
                .lookingAt();
    }
}
