package warden.core.aws.reach;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.account.Account;
import warden.core.aws.policy.Actor;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.aws.policy.Operator.Family;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.PrincipalElement;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.AccessList;
import warden.core.aws.storage.AccessList.Grantee.Canonical;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Reading;

/**
 * The callers that a bucket's policy and access lists name, in whatever way: as principals, by a condition on who the caller is or for whom a
 * service acts, in a deny that spares them, or by canonical user id. That somebody is named says nothing about what they may do.
 *
 * <p>Source: IAM User Guide, "AWS JSON policy elements: Principal" and "AWS global condition context keys"; S3 User Guide, "Configuring IAM policies
 * for using access points", section "Delegating access control to access points", and "Access control list (ACL) overview".
 */
public final class NamedCallers {
    /** A service of which nothing is known but for whom it acts. */
    private static final String SOME_SERVICE = "any.amazonaws.com";

    private static final Pattern ACCOUNT = Pattern.compile("[0-9]{12}|\\{[^{}]+\\}");

    /**
     * Somebody who is named.
     *
     * @param called how a sentence calls them
     * @param account the number of the account that they belong to, or that a service acts for; absent where it is not known
     * @param organization the organization's id; absent unless one is named
     */
    public record Caller(Grantee grantee, String called, Optional<String> account, Optional<String> organization) {}

    private final Account account;
    private final Map<String, Caller> callers = new LinkedHashMap<>();

    private NamedCallers(Account account) {
        this.account = account;
    }

    /** Returns those of a bucket, each once, in the order in which they are named: policy, bucket's list, objects' lists. */
    public static List<Caller> of(Account account, Bucket bucket) {
        NamedCallers named = new NamedCallers(account);
        bucket.policy().found().ifPresent(named::inPolicy);
        named.inList(bucket.accessList());
        for (String key : bucket.keysWith("object-acl")) {
            bucket.objectAccessList(key).ifPresent(named::inList);
        }
        return List.copyOf(named.callers.values());
    }

    /** Returns those of one policy, of a role's trust say, in the order in which they are named. */
    public static List<Caller> in(Account account, PolicyDocument policy) {
        NamedCallers named = new NamedCallers(account);
        named.inPolicy(policy);
        return List.copyOf(named.callers.values());
    }

    private void add(Grantee grantee, String called, Optional<String> ofAccount, Optional<String> organization) {
        callers.putIfAbsent(grantee.label(), new Caller(grantee, called, ofAccount, organization));
    }

    private void inList(Reading<AccessList> reading) {
        reading.found().ifPresent(list -> list.grants().stream()
                .flatMap(grant -> grant.grantee() instanceof Canonical canonical
                        ? Stream.of(canonical.id())
                        : Stream.<String>empty())
                .forEach(this::canonical));
    }

    private void canonical(String id) {
        Optional<String> identity = account.canonicalIds().originIdentities().entrySet().stream()
                .filter(entry -> entry.getValue().equals(id))
                .map(Map.Entry::getKey)
                .findFirst();
        boolean own = account.canonicalIds().canonicalId().filter(id::equals).isPresent();
        if (identity.isPresent()) {
            add(
                    new Grantee(new Actor.OriginIdentity(identity.get())),
                    identity.get(),
                    Optional.empty(),
                    Optional.empty());
        } else if (!own) {
            add(
                    new Grantee(new Actor.CanonicalUser(id)),
                    "the account with the canonical user id " + id,
                    Optional.empty(),
                    Optional.empty());
        }
    }

    private void inPolicy(PolicyDocument policy) {
        for (Statement statement : policy.statements()) {
            statement.principals().ifPresent(clause -> inClause(clause));
            for (Condition condition : statement.conditions()) {
                inCondition(statement, condition);
            }
        }
    }

    private void inClause(PrincipalClause clause) {
        for (PrincipalElement element : clause.elements()) {
            if (element instanceof PrincipalElement.ServiceName service) {
                add(
                        new Grantee(new Actor.Service(service.name())),
                        "the service " + service.name(),
                        Optional.empty(),
                        Optional.empty());
            } else if (element instanceof PrincipalElement.OriginAccessIdentity identity) {
                add(
                        new Grantee(new Actor.OriginIdentity(identity.id())),
                        "the origin access identity " + identity.id(),
                        Optional.empty(),
                        Optional.empty());
            } else if (element instanceof PrincipalElement.CanonicalUser canonical) {
                canonical(canonical.id());
            } else if (element instanceof PrincipalElement.Account named) {
                principal(new Actor.AccountRoot(named.account()));
            } else if (element instanceof PrincipalElement.UserArn user) {
                principal(new Actor.User(user.arn()));
            } else if (element instanceof PrincipalElement.RoleArn role) {
                principal(new Actor.Role(role.arn()));
            } else if (element instanceof PrincipalElement.SessionArn session) {
                Actor.parse(session.arn().toString()).ifPresent(this::principal);
            }
        }
    }

    private void principal(Actor actor) {
        String number = actor.home().orElseThrow();
        String called = actor instanceof Actor.AccountRoot
                ? "the account " + number
                : actor.spelled() + " of the account " + number;
        add(new Grantee(actor), called, Optional.of(number), Optional.empty());
    }

    private void inCondition(Statement statement, Condition condition) {
        switch (condition.lowerCaseKey()) {
            case "aws:principalaccount" ->
                condition.values().stream()
                        .filter(value -> ACCOUNT.matcher(value).matches())
                        .forEach(number -> principal(new Actor.AccountRoot(number)));
            case "aws:principalarn" -> condition.values().forEach(value -> byArn(condition, value));
            case "aws:principalorgid" -> condition.values().forEach(id -> organization(id, "aws:PrincipalOrgID", id));
            case "aws:principalorgpaths" -> condition.values().forEach(this::organizationPath);
            case "aws:sourceaccount" ->
                condition.values().stream()
                        .filter(value -> ACCOUNT.matcher(value).matches())
                        .forEach(number ->
                                actingFor(statement, number, number, Map.of("aws:SourceAccount", Known.of(number))));
            case "aws:sourcearn" ->
                condition.values().forEach(value -> Arn.parse(value)
                        .filter(arn -> ACCOUNT.matcher(arn.account()).matches())
                        .ifPresent(arn -> actingFor(
                                statement,
                                arn.account(),
                                value,
                                Map.of(
                                        "aws:SourceArn",
                                        Known.of(plain(value)),
                                        "aws:SourceAccount",
                                        new ContextValue.OneOf(Language.of(arn.account()), true)))));
            case "s3:dataaccesspointaccount" ->
                condition.values().stream()
                        .filter(value -> ACCOUNT.matcher(value).matches())
                        .forEach(number -> accessPoints(number, Map.of("s3:DataAccessPointAccount", Known.of(number))));
            case "s3:dataaccesspointarn" ->
                condition.values().forEach(value -> Arn.parse(value)
                        .filter(arn -> ACCOUNT.matcher(arn.account()).matches())
                        .ifPresent(arn -> accessPoints(
                                arn.account(),
                                Map.of(
                                        "s3:DataAccessPointArn",
                                        Known.of(plain(value)),
                                        "s3:DataAccessPointAccount",
                                        Known.of(arn.account())))));
            default -> {
                // Other keys say from where, when or how a request comes, not whose it is.
            }
        }
    }

    /** Names with wildcards stand for whoever bears such a name; the shortest one is taken for all. */
    private void byArn(Condition condition, String value) {
        boolean pattern = condition.operator().family() == Family.PATTERN
                || condition.operator().family() == Family.ARN;
        String example = pattern ? plain(value) : value;
        Optional<Arn> arn = Arn.parse(example)
                .filter(parsed -> ACCOUNT.matcher(parsed.account()).matches());
        if (arn.isEmpty()) {
            return;
        }
        if (arn.get().resource().isEmpty() || arn.get().resource().equals("x")) {
            principal(new Actor.AccountRoot(arn.get().account()));
            Actor.parse("arn:aws:iam::" + arn.get().account() + ":role/x").ifPresent(this::principal);
        }
        Actor.parse(example).ifPresent(this::principal);
    }

    /** Spells a pattern without its wildcards, so that it still names something. */
    private static String plain(String pattern) {
        if (pattern.indexOf('*') < 0 && pattern.indexOf('?') < 0) {
            return pattern;
        }
        String shortest = Language.matching(Glob.parse(pattern)).witness().orElse(pattern);
        return shortest.endsWith("/") || shortest.endsWith(":") ? shortest + "x" : shortest;
    }

    private void organization(String id, String key, String carried) {
        if (id.startsWith("o-") && id.indexOf('*') < 0 && id.indexOf('?') < 0) {
            add(
                    new Grantee("organization:" + id, new Actor.AnyAccount(), Map.of(key, new Known(List.of(carried)))),
                    "the organization " + id,
                    Optional.empty(),
                    Optional.of(id));
        }
    }

    private void organizationPath(String path) {
        int slash = path.indexOf('/');
        String id = slash < 0 ? path : path.substring(0, slash);
        organization(id, "aws:PrincipalOrgPaths", plain(path));
    }

    /** Who acts for somebody is a service: those that the statement names, or some service. */
    private void actingFor(Statement statement, String number, String of, Map<String, ContextValue> settled) {
        List<String> services = new ArrayList<>();
        statement.principals().ifPresent(clause -> clause.elements().forEach(element -> {
            if (element instanceof PrincipalElement.ServiceName service && !clause.negated()) {
                services.add(service.name().toLowerCase(Locale.ROOT));
            }
        }));
        for (String service : services.isEmpty() ? List.of(SOME_SERVICE) : services) {
            String called = (service.equals(SOME_SERVICE) ? "a service" : "the service " + service)
                    + " acting for the account " + number;
            add(
                    new Grantee("service:" + service + " for " + of, new Actor.Service(service), settled),
                    called,
                    Optional.of(number),
                    Optional.empty());
        }
    }

    private void accessPoints(String number, Map<String, ContextValue> settled) {
        add(
                new Grantee("access-points:" + number, new Actor.AccountRoot(number), settled),
                "the account " + number + " through its access points",
                Optional.of(number),
                Optional.empty());
    }
}
