package warden.standin;

/** Ends a request with one of the provider's errors. */
final class Refusal extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final int status;
    private final String code;

    Refusal(int status, String code, String message) {
        super(message, null, false, false);
        this.status = status;
        this.code = code;
    }

    int status() {
        return status;
    }

    String code() {
        return code;
    }

    static Refusal denied(String action, String resource) {
        return new Refusal(
                403, "AccessDenied", "The caller is not authorized to perform " + action + " on " + resource);
    }
}
