package warden.gather.site;

/** Says that a site file cannot be used: file, line, column, what is wrong and what to do. */
public final class SiteFileException extends Exception {
    private static final long serialVersionUID = 1L;

    SiteFileException(String message) {
        super(message);
    }
}
