package warden.core.survey;

/** One account of a provider, or subscription, as one survey shows it. */
public interface SurveyedAccount {
    /** Returns what its provider numbers it by, from the header. */
    String number();

    /** Returns everything that was read of it. */
    Survey survey();
}
