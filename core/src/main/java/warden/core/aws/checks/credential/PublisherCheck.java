package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.permission.Excess;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.aws.site.BucketSite;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** A check that asks its question of every publishing credential. */
interface PublisherCheck extends AwsCheck<PublisherCheck.Subject> {
    /**
     * One credential, what it can do and what its deployments need.
     *
     * @param doubts what would settle whether it publishes at all; empty when that is known
     */
    record Subject(AwsContext context, PublishingPrincipal publisher, List<Need> doubts) implements Judged {
        EffectivePermissions permissions() {
            return context.permissions(publisher);
        }

        Optional<String> site() {
            return publisher.sites().stream().findFirst().map(BucketSite::name);
        }

        String name() {
            return publisher.principal().name();
        }

        NeededPermissions needed() {
            return context.needed(publisher);
        }

        Excess excess() {
            return context.excess(publisher);
        }

        /** Returns the buckets of its sites. */
        List<Bucket> buckets() {
            return publisher.sites().stream()
                    .filter(site -> site.account() == publisher.account())
                    .flatMap(site -> site.buckets().stream())
                    .distinct()
                    .toList();
        }

        Verdict clean() {
            return new Verdict.Clean(publisher.arn(), site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(publisher.arn(), site(), needs);
        }

        @Override
        public void letGo() {
            context.letGo(publisher);
        }

        Finding finding(CheckCard card, String says, List<Citation> because) {
            return Finding.of(
                    card,
                    publisher.arn(),
                    site(),
                    says,
                    because.isEmpty()
                            ? List.of(publisher.principal().at())
                            : because.stream().distinct().limit(6).toList());
        }

        /** Returns that nothing is wrong; or, where a policy of the credential could not be read, that this is not known. */
        Verdict cleanUnlessUnread() {
            List<Need> missing = permissions().missing();
            return missing.isEmpty() ? clean() : unknown(missing);
        }
    }

    /** Returns the verdicts on one credential that publishes. */
    List<Verdict> judge(Subject subject);

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(PublisherCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        context.publishers().forEach(publisher -> subjects.add(new Subject(context, publisher, List.of())));
        context.possiblePublishers()
                .forEach(possible -> subjects.add(new Subject(context, possible.publisher(), possible.needs())));
        return subjects;
    }

    /** What would be wrong with a publisher is not known to be wrong with somebody who may be none. */
    @Override
    default List<Verdict> examine(Subject subject) {
        List<Verdict> verdicts = judge(subject);
        boolean wrong = verdicts.stream().anyMatch(verdict -> !(verdict instanceof Verdict.Clean));
        return wrong && !subject.doubts().isEmpty() ? List.of(subject.unknown(subject.doubts())) : verdicts;
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        return CredentialNeeds.unread(context);
    }
}
