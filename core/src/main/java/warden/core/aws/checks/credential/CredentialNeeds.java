package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.publishing.UnreadPublisher;
import warden.core.aws.site.BucketSite;
import warden.core.survey.Need;

/** What is missing to judge a credential. */
final class CredentialNeeds {
    private CredentialNeeds() {}

    /** Returns open verdicts for the credentials that publish, or may, and were not read; only for those of whom {@code aspect} asks. */
    static List<Verdict> unread(AwsContext context, Predicate<Need> aspect) {
        List<Verdict> verdicts = new ArrayList<>();
        for (UnreadPublisher publisher : context.unreadPublishers()) {
            List<Need> needs = publisher.needs().stream().filter(aspect).toList();
            if (!needs.isEmpty()) {
                verdicts.add(new Verdict.Unknown(
                        publisher.subject(), publisher.site().map(BucketSite::name), needs));
            }
        }
        return verdicts;
    }

    /** Returns open verdicts for all credentials that publish, or may, and were not read. */
    static List<Verdict> unread(AwsContext context) {
        return unread(context, need -> true);
    }
}
