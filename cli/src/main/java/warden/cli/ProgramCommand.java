package warden.cli;

import java.util.concurrent.Callable;

/** A command of the program: what it takes, and what it does; it ends with an exit code. */
interface ProgramCommand extends Callable<Integer> {
    /** Says what the command is for and what it takes. */
    void declare(Options line);
}
