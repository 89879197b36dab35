package warden.gather.template;

/**
 * A value that the description does not tell.
 *
 * @param why a phrase
 * @param placeholder what stands for it within a longer text
 */
record Unknown(String why, String placeholder) {}
