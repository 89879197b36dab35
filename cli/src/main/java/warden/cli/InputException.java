package warden.cli;

/** Ends a command with a message for the user and an exit code. */
final class InputException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final ExitCode code;

    InputException(ExitCode code, String message) {
        super(message);
        this.code = code;
    }

    ExitCode code() {
        return code;
    }
}
