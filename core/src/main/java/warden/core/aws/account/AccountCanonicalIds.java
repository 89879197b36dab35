package warden.core.aws.account;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.access.Truth;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.CanonicalIds;
import warden.core.document.JsonPart;
import warden.core.survey.Survey;

/** The canonical user ids that one account's survey shows: its own, and those of its origin access identities. Safe for use by several threads. */
public final class AccountCanonicalIds implements CanonicalIds {
    private final Survey survey;
    private @Nullable Map<String, String> identityIds;
    private @Nullable Optional<String> ownId;

    AccountCanonicalIds(Survey survey) {
        this.survey = survey;
    }

    /** Returns the account's canonical user id; absent when no reading shows it. */
    public synchronized Optional<String> canonicalId() {
        if (ownId == null) {
            Optional<String> fromList = survey.reading(
                            "bucket-list", survey.header().account())
                    .found()
                    .flatMap(list -> list.text("Owner", "ID"));
            ownId = fromList.or(() -> survey.subjects("bucket-acl").stream()
                    .flatMap(arn -> survey.reading("bucket-acl", arn).found().stream())
                    .flatMap(acl -> acl.text("Owner", "ID").stream())
                    .findFirst());
        }
        return ownId;
    }

    /** Returns the canonical user ids of the origin access identities that were read, by identity id. */
    public synchronized Map<String, String> originIdentities() {
        if (identityIds == null) {
            identityIds = new LinkedHashMap<>();
            for (String subject : survey.subjects("origin-identity")) {
                survey.reading("origin-identity", subject).found().ifPresent(answer -> {
                    JsonPart identity =
                            answer.find("CloudFrontOriginAccessIdentity").orElse(answer);
                    String id = identity.text("Id").orElse(subject.substring(subject.lastIndexOf('/') + 1));
                    identity.text("S3CanonicalUserId").ifPresent(canonical -> identityIds.put(id, canonical));
                });
            }
        }
        return identityIds;
    }

    /**
     * {@inheritDoc}
     *
     * <p>An origin identity that was not read may be any canonical id that is not known to be somebody else's.
     */
    @Override
    public Truth standsFor(String id, Actor actor) {
        boolean isOwn = canonicalId().filter(id::equals).isPresent();
        boolean isIdentitys = originIdentities().containsValue(id);
        if (actor instanceof Actor.OriginIdentity identity) {
            String known = originIdentities().get(identity.id());
            if (known != null) {
                return Truth.of(known.equals(id));
            }
            return isOwn || isIdentitys ? Truth.FALSE : Truth.UNKNOWN;
        }
        if (actor instanceof Actor.CanonicalUser user) {
            return Truth.of(user.id().equals(id));
        }
        if (actor.home().isEmpty()) {
            return Truth.FALSE;
        }
        if (actor.home().get().equals(survey.header().account())) {
            return isOwn ? Truth.TRUE : canonicalId().isPresent() || isIdentitys ? Truth.FALSE : Truth.UNKNOWN;
        }
        return isOwn || isIdentitys ? Truth.FALSE : Truth.UNKNOWN;
    }

    @Override
    public boolean mayBelongTo(String id, String account) {
        boolean isOwn = canonicalId().filter(id::equals).isPresent();
        return account.equals(survey.header().account())
                ? isOwn || canonicalId().isEmpty()
                : !isOwn;
    }
}
