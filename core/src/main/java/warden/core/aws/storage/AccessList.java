package warden.core.aws.storage;

import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * The access control list of a bucket or an object.
 * Source: S3 User Guide, "Access control list (ACL) overview".
 *
 * @param ownerId the owner's canonical user id; absent when the answer does not show it
 */
public record AccessList(Optional<String> ownerId, List<Grant> grants) {
    private static final String GROUPS = "http://acs.amazonaws.com/groups/";

    public AccessList {
        grants = List.copyOf(grants);
    }

    /** To whom a grant is made. */
    public sealed interface Grantee {
        /** Everyone, unsigned callers included. */
        record AllUsers() implements Grantee {}

        /** Everyone with credentials of any account. */
        record AuthenticatedUsers() implements Grantee {}

        /** One account, by its canonical user id. */
        record Canonical(String id) implements Grantee {}

        /** The service that delivers access logs, or another group or form of naming that admits no caller of ours. */
        record Other(String name) implements Grantee {}
    }

    /** What a grant allows. */
    public enum Permission {
        READ,
        WRITE,
        READ_ACP,
        WRITE_ACP,
        FULL_CONTROL
    }

    /** One grant, and where it stands. */
    public record Grant(Pointer at, Grantee grantee, Permission permission) {
        /** True when the grant includes {@code wanted}. */
        public boolean includes(Permission wanted) {
            return permission == Permission.FULL_CONTROL || permission == wanted;
        }

        /** True for grants to all users or to all authenticated users. */
        public boolean isPublic() {
            return grantee instanceof Grantee.AllUsers || grantee instanceof Grantee.AuthenticatedUsers;
        }
    }

    /** Reads the answer of get-bucket-acl or get-object-acl. */
    public static AccessList parse(JsonPart answer) {
        List<Grant> grants = answer.list("Grants").stream()
                .flatMap(grant -> grant(grant).stream())
                .toList();
        return new AccessList(answer.text("Owner", "ID"), grants);
    }

    private static Optional<Grant> grant(JsonPart part) {
        return part.text("Permission")
                .flatMap(AccessList::permission)
                .map(permission -> new Grant(part.at(), grantee(part), permission));
    }

    private static Optional<Permission> permission(String word) {
        return List.of(Permission.values()).stream()
                .filter(permission -> permission.name().equals(word))
                .findFirst();
    }

    private static Grantee grantee(JsonPart grant) {
        Optional<String> uri = grant.text("Grantee", "URI");
        if (uri.isPresent()) {
            return switch (uri.get()) {
                case GROUPS + "global/AllUsers" -> new Grantee.AllUsers();
                case GROUPS + "global/AuthenticatedUsers" -> new Grantee.AuthenticatedUsers();
                default -> new Grantee.Other(uri.get());
            };
        }
        return grant.text("Grantee", "ID")
                .<Grantee>map(Grantee.Canonical::new)
                .orElseGet(() ->
                        new Grantee.Other(grant.text("Grantee", "EmailAddress").orElse("?")));
    }
}
