package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.check.Setup;
import warden.core.check.Verdict;
import warden.core.document.JsonPart;
import warden.core.identity.Principal;
import warden.core.site.Site;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * An active access key of a user.
 *
 * @param user the user's ARN
 * @param id in full, which no output shows
 * @param created as the answer writes it; empty when it does not
 */
record AccessKey(Account account, String user, String id, String created, Citation at) {
    /** Returns the active keys of all users, in the order of the surveys. */
    static List<AccessKey> active(Setup setup) {
        List<AccessKey> keys = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal user : account.directory().principals()) {
                String arn = user.arn().toString();
                Reading<JsonPart> reading = account.survey().reading("iam-user-keys", arn);
                if (!user.isRole() && reading.found().isPresent()) {
                    reading.found().get().list("AccessKeyMetadata").stream()
                            .filter(key ->
                                    key.text("Status").filter("Active"::equals).isPresent())
                            .forEach(key -> keys.add(new AccessKey(
                                    account,
                                    arn,
                                    key.text("AccessKeyId").orElse(""),
                                    key.text("CreateDate").orElse(""),
                                    reading.citation()
                                            .orElseThrow()
                                            .at(
                                                    key.at().toString(),
                                                    shortened(key.text("AccessKeyId")
                                                            .orElse(""))))));
                }
            }
        }
        return keys;
    }

    /** Returns an open verdict for each user whose keys could not be read. */
    static List<Verdict> unread(Setup setup) {
        List<Verdict> unread = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal user : account.directory().principals()) {
                String arn = user.arn().toString();
                Optional<Need> missing = user.isRole()
                        ? Optional.empty()
                        : account.survey().reading("iam-user-keys", arn).missing();
                missing.ifPresent(need -> unread.add(new Verdict.Unknown(arn, Optional.empty(), List.of(need))));
            }
        }
        return unread;
    }

    /** Returns the name of the site that the user publishes; absent when it publishes none. */
    Optional<String> site(Setup setup) {
        return setup.deployments().publisher(user).stream()
                .flatMap(publisher -> publisher.sites().stream())
                .findFirst()
                .map(Site::name);
    }

    /** An access key id names an account's secret half; outputs show its ends only. */
    static String shortened(String id) {
        return id.length() < 12 ? "…" : id.substring(0, 4) + "…" + id.substring(id.length() - 4);
    }

    /** Returns a citation of a reading about a key without the key's id, which is its subject. */
    static Citation masked(Citation at) {
        return new Citation(at.file(), at.line(), at.aspect(), shortened(at.subject()), "/AccessKeyLastUsed", "");
    }
}
