package warden.core.survey;

/**
 * What is not known and what would settle it: the aspect and subject that would have to be read, why it is not there,
 * and the permission that reading it takes (empty when no permission is known to help).
 */
public record Need(String aspect, String of, String why, String permission) {}
