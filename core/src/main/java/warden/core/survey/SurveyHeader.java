package warden.core.survey;

import java.util.List;

/**
 * The first line of a survey.
 *
 * @param file the survey's name as the user gave it
 * @param provider {@code aws} or {@code azure}
 * @param account the account number (or subscription id), empty when the header gives none
 * @param takenAt when it was taken, as written; empty when not said
 * @param takenBy who took it, as written; empty when not said
 * @param hosts the only hosts whose chains the survey followed, in lower case; empty when it was of the whole account
 * @param tenant the directory that a subscription trusts; empty where the provider has none or it is not said
 * @param isOfTemplate true when it was made of a description, and nothing was asked of an account
 */
public record SurveyHeader(
        String file,
        String provider,
        String account,
        String takenAt,
        String takenBy,
        List<String> hosts,
        String tenant,
        boolean isOfTemplate) {
    public SurveyHeader {
        hosts = List.copyOf(hosts);
    }

    /** Makes the header of a survey that was taken of an account. */
    public SurveyHeader(
            String file, String provider, String account, String takenAt, String takenBy, List<String> hosts) {
        this(file, provider, account, takenAt, takenBy, hosts, "", false);
    }

    /** Makes the header of a survey of a whole account. */
    public SurveyHeader(String file, String provider, String account, String takenAt, String takenBy) {
        this(file, provider, account, takenAt, takenBy, List.of());
    }

    /** True when the survey followed some hosts only, and says nothing of the rest of the account. */
    public boolean isPartial() {
        return !hosts.isEmpty();
    }

    /** The version of the format that this program reads and writes. */
    public static final int VERSION = 1;
}
