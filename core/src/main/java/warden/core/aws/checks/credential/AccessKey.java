package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.identity.KeyIds;
import warden.core.aws.site.BucketSite;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * An active access key of a user.
 *
 * @param user the user's ARN
 * @param id in full, which no output shows
 * @param created as the answer writes it; empty when it does not
 */
record AccessKey(AwsContext context, Account account, String user, String id, String created, Citation at)
        implements Judged {
    private static final String KEYS = "iam-user-keys";

    /** Returns the active keys of all users, in the order of the surveys. */
    static List<AccessKey> active(AwsContext context) {
        List<AccessKey> keys = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (String user : account.survey().subjects(KEYS)) {
                account.survey()
                        .reading(KEYS, user)
                        .found()
                        .ifPresent(answer -> answer.list("AccessKeyMetadata").stream()
                                .filter(key -> key.text("Status")
                                        .filter("Active"::equals)
                                        .isPresent())
                                .forEach(key -> keys.add(of(context, account, user, key))));
            }
        }
        return keys;
    }

    private static AccessKey of(AwsContext context, Account account, String user, JsonPart key) {
        String id = key.text("AccessKeyId").orElse("");
        Citation at = account.survey().reading(KEYS, user).citation().orElseThrow();
        return new AccessKey(
                context,
                account,
                user,
                id,
                key.text("CreateDate").orElse(""),
                at.at(key.at().toString(), KeyIds.shortened(id)));
    }

    /** Returns an open verdict for each user whose keys could not be read, and for what is not known of the users themselves. */
    static List<Verdict> unread(AwsContext context) {
        List<Verdict> unread = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            Set<String> users = new LinkedHashSet<>(account.survey().subjects(KEYS));
            account.directory().principals().stream()
                    .filter(principal -> !principal.isRole())
                    .forEach(user -> users.add(user.arn().toString()));
            for (String user : users) {
                account.survey()
                        .missing(KEYS, user)
                        .ifPresent(need -> unread.add(new Verdict.Unknown(user, site(context, user), List.of(need))));
            }
        }
        unread.addAll(CredentialNeeds.unread(
                context, need -> need.aspect().equals("iam-user") || !need.of().startsWith("arn:")));
        return unread;
    }

    /** Returns the name of the site that the user publishes; absent when it publishes none. */
    Optional<String> site() {
        return site(context, user);
    }

    @Override
    public Verdict unknown(List<Need> needs) {
        return new Verdict.Unknown(user, site(), needs);
    }

    Verdict clean() {
        return new Verdict.Clean(user, site());
    }

    private static Optional<String> site(AwsContext context, String user) {
        return context.deployments().publisher(user).stream()
                .flatMap(publisher -> publisher.sites().stream())
                .findFirst()
                .map(BucketSite::name);
    }

    /** Returns a citation of a reading about a key without the key's id, which is its subject. */
    static Citation masked(Citation at) {
        return new Citation(
                at.file(), at.line(), at.aspect(), KeyIds.shortened(at.subject()), "/AccessKeyLastUsed", "", at.from());
    }
}
