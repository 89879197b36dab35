package warden.standin;

import java.util.LinkedHashMap;
import java.util.Map;

/** Ends a request with one of the provider's errors. */
public final class Refusal extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final int status;
    private final String code;
    private final transient Map<String, String> headers = new LinkedHashMap<>();

    public Refusal(int status, String code, String message) {
        super(message, null, false, false);
        this.status = status;
        this.code = code;
    }

    public int status() {
        return status;
    }

    public String code() {
        return code;
    }

    /** Adds a header that goes with the refusal. */
    public Refusal with(String header, String value) {
        headers.put(header, value);
        return this;
    }

    public Map<String, String> headers() {
        return headers;
    }
}
