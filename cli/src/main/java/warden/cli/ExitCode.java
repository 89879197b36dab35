package warden.cli;

import warden.core.audit.Judgement;

/** The exit codes, from best to worst where several apply at once. */
enum ExitCode {
    DONE(0, "done; nothing at or above the gate"),
    FOUND(
            1,
            "done; something at or above the gate (audit), an observation differs (trace --observe),"
                    + " the outcome is another (trace --expect), meaning changed (drift), or a permission was refused"
                    + " (rehearse)"),
    WRONG_COMMAND(2, "the command line is wrong"),
    WRONG_INPUT(3, "an input file is missing, malformed or of a version not understood"),
    UNREACHABLE(4, "the cloud or the site could not be reached, or refused the credentials"),
    UNKNOWN(
            5,
            "nothing at or above the gate was found, but a check at or above it could not be answered"
                    + " (audit), or --strict and anything is unknown"),
    COMMAND_FAILED(6, "the rehearsed command failed, though nothing was refused (rehearse)"),
    BUG(70, "a bug in the tool: one line, and where the details were written");

    private final int number;
    private final String meaning;

    ExitCode(int number, String meaning) {
        this.number = number;
        this.meaning = meaning;
    }

    int number() {
        return number;
    }

    String meaning() {
        return meaning;
    }

    /** Returns what an audit ends with: a finding at the gate goes before a question that could not be answered. */
    static ExitCode of(Judgement judgement) {
        if (judgement.isFailed()) {
            return FOUND;
        }
        return judgement.isOpen() ? UNKNOWN : DONE;
    }
}
