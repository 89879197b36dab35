package warden.gather.aws.template;

/** Ends the making of a reading that rests on something which the description does not tell. */
final class NotTold extends RuntimeException {
    private static final long serialVersionUID = 1L;

    NotTold(String why) {
        super(why, null, false, false);
    }

    String why() {
        return String.valueOf(getMessage());
    }
}
