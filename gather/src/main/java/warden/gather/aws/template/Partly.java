package warden.gather.aws.template;

/**
 * A text of which a part is not told.
 *
 * @param text with a placeholder in the place of what is not told
 * @param why a phrase
 */
record Partly(String text, String why) {}
