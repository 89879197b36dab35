package warden.core.secret;

/**
 * A secret that stands in a text. It never carries the secret itself.
 *
 * @param kind what it is, as a phrase: {@code an access key of the provider}
 * @param line counted from 1
 * @param from the offset of its first character in the text, in UTF-16 units
 * @param to the offset behind its last character
 */
public record Secret(String kind, int line, int from, int to) {}
