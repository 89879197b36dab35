package warden.gather.live;

/** Says that no survey can be taken: the endpoint cannot be reached, or the credentials were refused. One sentence. */
public final class LiveException extends Exception {
    private static final long serialVersionUID = 1L;

    public LiveException(String message) {
        super(message);
    }
}
