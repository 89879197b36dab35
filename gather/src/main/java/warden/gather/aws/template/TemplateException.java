package warden.gather.aws.template;

/** Says in one sentence why a description cannot be read, beginning with its file and, where it is known, line and column. */
public final class TemplateException extends Exception {
    private static final long serialVersionUID = 1L;

    public TemplateException(String file, String says) {
        super(file + ": " + says);
    }

    public TemplateException(String file, int line, int column, String says) {
        super(file + ":" + line + ":" + column + ": " + says);
    }
}
