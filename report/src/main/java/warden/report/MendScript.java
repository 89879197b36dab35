package warden.report;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import warden.core.document.DisplayText;
import warden.core.mend.Call;
import warden.core.mend.Edited;
import warden.core.mend.Plan;
import warden.core.mend.Step;

/**
 * The steps of a plan as a shell script that makes them, and one that takes them back. Before each step the document is read again: it must be
 * what was surveyed, or what is to be; anything else stops the script. What names come from a survey stand between single quotes. Source: POSIX
 * "Shell Command Language", 2.2.2 Single-Quotes.
 */
final class MendScript {
    private final StringBuilder out = new StringBuilder();
    private final Plan plan;
    private final boolean undoes;

    private MendScript(Plan plan, boolean undoes) {
        this.plan = plan;
        this.undoes = undoes;
    }

    /** Returns the script that makes the changes. */
    static String apply(Plan plan) {
        return new MendScript(plan, false).write();
    }

    /** Returns the script that takes them back. */
    static String undo(Plan plan) {
        return new MendScript(plan, true).write();
    }

    private void line(String text) {
        out.append(text).append('\n');
    }

    private String write() {
        line("#!/bin/sh");
        line(
                undoes
                        ? "# Takes back what apply.sh did, the last step first. See README.md beside it."
                        : "# Makes the changes that README.md beside it explains, step by step.");
        line("# With --dry-run it prints the calls and makes none.");
        line("set -eu");
        line("LC_ALL=C AWS_PAGER='' AWS_CLI_FILE_ENCODING=UTF-8");
        line("export LC_ALL AWS_PAGER AWS_CLI_FILE_ENCODING");
        line("umask 077");
        line("cd \"$(dirname \"$0\")\"");
        line("dry=");
        line("case ${1-} in");
        line("    '') ;;");
        line("    --dry-run) dry=yes ;;");
        line("    *) printf 'gentle-warden: the only option is --dry-run\\n' >&2; exit 2 ;;");
        line("esac");
        line("finished=");
        line("record=" + (undoes ? "undone" : "applied"));
        line("work=${TMPDIR:-/tmp}/gentle-warden-$$");
        line("mkdir \"$work\"");
        line("trap 'rm -rf \"$work\"' EXIT");
        line("trap 'exit 129' HUP");
        line("trap 'exit 130' INT");
        line("trap 'exit 143' TERM");
        line(": > \"$work/names\"");
        line("");
        out.append(common()).append('\n');
        line("# ---- what follows is of this plan ----");
        line("");
        List<Step> steps = new ArrayList<>(plan.steps());
        steps.forEach(this::functions);
        if (undoes) {
            Collections.reverse(steps);
        }
        dryRun(steps);
        line("rm -f " + (undoes ? "applied" : "undone"));
        programs(steps);
        steps.forEach(this::known);
        for (List<Step> block : byAccount(steps)) {
            block(block);
        }
        line("printf 'All steps are " + (undoes ? "undone" : "done") + ".\\n'");
        return out.toString();
    }

    private static String common() {
        try (InputStream in = Objects.requireNonNull(
                MendScript.class.getResourceAsStream("/warden/report/mend.sh"), "mend.sh is part of the program")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
    }

    // --- words of the shell

    /** Returns a text as one word that the shell takes as it stands. */
    static String quoted(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }

    private static String said(String text) {
        return quoted(DisplayText.clean(text));
    }

    /** Returns a pattern of sed that is just this text. */
    private static String pattern(String text) {
        return text.replaceAll("[\\[\\]\\\\.*^$/]", "\\\\$0");
    }

    /** Returns a call as a line of the shell; names that the service gives are filled in when it runs. */
    private String words(Step step, Call call, String file) {
        List<String> words = new ArrayList<>(List.of(step.edited().program().name()));
        for (String argument : call.arguments()) {
            words.add(argument(argument, file));
        }
        return String.join(" ", words);
    }

    private String argument(String argument, String file) {
        String word = quoted(argument).replace(Call.FILE, "'\"" + file + "\"'").replace(Call.TAG, "'\"$tag\"'");
        for (Step step : plan.steps()) {
            if (step.edited().made().isPresent()) {
                Edited.Made made = step.edited().made().get();
                word = word.replace(made.placeholder(), "'\"$made_" + step.number() + "\"'");
            }
        }
        return word.replaceAll("^''(?=\")|(?<=\")''$", "");
    }

    // --- functions of a step

    private Call writing(Step step) {
        return undoes ? step.edited().undo().orElseThrow() : step.edited().apply();
    }

    private boolean isUndone(Step step) {
        return step.edited().undo().isPresent();
    }

    private void functions(Step step) {
        if (undoes && !isUndone(step)) {
            return;
        }
        Edited edited = step.edited();
        String n = Integer.toString(step.number());
        line("read_" + n + "() {");
        line("    look \"$1\" " + quoted(String.join(" ", edited.document().absence())) + " "
                + words(step, edited.document().read(), ""));
        line("}");
        line("write_" + n + "() {");
        boolean isTagged = writing(step).arguments().stream().anyMatch(argument -> argument.contains(Call.TAG));
        edited.calls()
                .tag()
                .filter(tag -> isTagged)
                .ifPresent(tag -> line("    tag=$(" + words(step, tag, "") + ") || return 1"));
        if (writing(step).file().isPresent()) {
            line("    filled " + quoted("steps/" + step.folder() + "/" + file(step)) + " \"$work/document.json\"");
        }
        boolean prints = isMaking(step);
        line("    " + words(step, writing(step), "$work/document.json") + (prints ? "" : " > \"$work/answer\""));
        line("}");
        line("settle_" + n + "() {");
        line("    " + edited.calls().settle().map(call -> words(step, call, "")).orElse(":"));
        line("}");
        line("");
    }

    /** True where the call prints the identifier of what it makes. */
    private boolean isMaking(Step step) {
        return undoes
                ? step.edited().remade().isPresent()
                : step.edited().made().isPresent();
    }

    /** Returns the name of the file whose content the call takes: the document, or what is made of it for the call. */
    private String file(Step step) {
        return MendFiles.callFile(step, undoes);
    }

    private void dryRun(List<Step> steps) {
        line("if [ -n \"$dry\" ]; then");
        for (Step step : steps) {
            if (undoes && !isUndone(step)) {
                continue;
            }
            Call call = writing(step);
            String shown = step.edited().program().name() + " "
                    + call.arguments().stream()
                            .map(argument -> argument.replace(
                                    Call.FILE,
                                    "steps/" + step.folder() + "/"
                                            + (call.file().isPresent() ? file(step) : "")))
                            .map(MendScript::shown)
                            .collect(Collectors.joining(" "));
            line("    printf '%s\\n' "
                    + said("step " + step.number() + ": " + step.edited().title()) + " " + said("    " + shown));
        }
        line("    exit 0");
        line("fi");
        line("");
    }

    /** A word as a person would type it. */
    private static String shown(String word) {
        return word.matches("[A-Za-z0-9_./:=@%+,-]+") ? word : quoted(word);
    }

    private void programs(List<Step> steps) {
        steps.stream()
                .map(step -> step.edited().program().name())
                .distinct()
                .forEach(program -> line("command -v " + program + " > \"$work/answer\" || stop "
                        + said("the official command line " + program + " is not installed")));
        line("");
    }

    /** Finds out what was made before, so that documents can name it. */
    private void known(Step step) {
        Edited edited = step.edited();
        edited.made().ifPresent(made -> {
            String variable = "made_" + step.number();
            line(variable + "=$(" + words(step, made.find(), "")
                    + ") || stop 'what was made before could not be looked for'");
            line("[ \"$" + variable + "\" != None ] || " + variable + "=");
            line("[ -z \"$" + variable + "\" ] || name " + quoted(pattern(made.placeholder())) + " \"$" + variable
                    + "\"");
        });
    }

    /** Returns steps that follow one another in one account, in their order. */
    private static List<List<Step>> byAccount(List<Step> steps) {
        List<List<Step>> blocks = new ArrayList<>();
        String account = "";
        for (Step step : steps) {
            if (blocks.isEmpty() || !step.change().account().equals(account)) {
                account = step.change().account();
                blocks.add(new ArrayList<>());
            }
            blocks.get(blocks.size() - 1).add(step);
        }
        return blocks;
    }

    /** Makes steps under the credentials of their account; those of another are passed over where they were finished before. */
    private void block(List<Step> block) {
        Step first = block.get(0);
        String account = first.change().account();
        String numbers =
                block.stream().map(step -> Integer.toString(step.number())).collect(Collectors.joining(" "));
        line("caller=$(" + words(first, first.edited().program().caller(), "")
                + ") || stop 'the credentials could not be told; nothing was changed'");
        line("if [ \"$caller\" != " + quoted(account) + " ]; then");
        line("    finished_before " + quoted(numbers) + " || stop "
                + said("the next steps are made in the account " + account + ", and the credentials are of another")
                + "\" ($caller)\"");
        line("else");
        block.forEach(this::run);
        line("fi");
    }

    private void run(Step step) {
        if (undoes && !isUndone(step)) {
            line("printf '%s\\n' "
                    + said("step " + step.number() + " cannot be undone: "
                            + step.edited().title()));
            return;
        }
        if (isMaking(step)) {
            make(step);
        } else if (step.edited().made().isPresent()) {
            unmake(step);
        } else {
            change(step);
        }
    }

    private void change(Step step) {
        String more = plan.steps().stream()
                .filter(other -> other.edited().isOfSameDocument(step.edited()))
                .filter(other -> undoes ? other.number() < step.number() : other.number() > step.number())
                .map(Step::folder)
                .collect(Collectors.joining(" "));
        line("step " + step.number() + " " + quoted(step.folder()) + " "
                + said(step.edited().title()) + " " + (undoes ? "before after" : "after before") + " " + quoted(more));
    }

    private void make(Step step) {
        if (undoes) {
            remake(step);
            return;
        }
        String variable = "made_" + step.number();
        String title = said(step.edited().title());
        line("if [ -n \"$" + variable + "\" ]; then");
        line("    printf 'step %s: it is there already: %s\\n' " + step.number() + " " + title);
        line("else");
        line("    printf 'step %s: %s\\n' " + step.number() + " " + title);
        line("    " + variable + "=$(write_" + step.number() + ") || refused " + step.number() + " " + title);
        line("    name " + quoted(pattern(step.edited().made().orElseThrow().placeholder())) + " \"$" + variable
                + "\"");
        line("fi");
        line("finish " + step.number());
    }

    private void unmake(Step step) {
        String variable = "made_" + step.number();
        String title = said(step.edited().title());
        line("if [ -n \"$" + variable + "\" ]; then");
        line("    printf 'step %s, undone: %s\\n' " + step.number() + " " + title);
        line("    write_" + step.number() + " || refused " + step.number() + " " + title);
        line("else");
        line("    printf 'step %s: it is not there: %s\\n' " + step.number() + " " + title);
        line("fi");
        line("finish " + step.number());
    }

    /** What was taken away is made again; documents that named it name the new one. */
    private void remake(Step step) {
        Edited.Remade remade = step.edited().remade().orElseThrow();
        String title = said(step.edited().title());
        line("read_" + step.number() + " \"$work/now.json\"");
        line("filled " + quoted("steps/" + step.folder() + "/before.json") + " \"$work/expected.json\"");
        line("if same \"$work/now.json\" \"$work/expected.json\"; then");
        line("    printf 'step %s: it is there: %s\\n' " + step.number() + " " + title);
        line("else");
        line("    printf 'step %s, undone: %s\\n' " + step.number() + " " + title);
        line("    new=");
        remade.find()
                .ifPresent(find -> line("    new=$(" + words(step, find, "")
                        + ") || stop 'what was made before could not be looked for'"));
        line("    if [ -z \"$new\" ] || [ \"$new\" = None ]; then");
        line("        new=$(write_" + step.number() + ") || refused " + step.number() + " " + title);
        line("    fi");
        line("    name " + quoted(pattern(remade.id())) + " \"$new\"");
        line("    printf 'It has another identifier now: %s\\n' \"$new\"");
        line("fi");
        line("finish " + step.number());
    }
}
