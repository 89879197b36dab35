package warden.core.aws.identity;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.aws.policy.Arn;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.policy.Statement;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** Finds users and roles of one account, with the policies that they hold. */
public final class Directory {
    private static final Pattern ORGANIZATION_ID = Pattern.compile("o-[a-z0-9]{10,32}");
    private static final String ORGANIZATION = "organization-policy";
    private static final String PERMISSION = "iam:GetAccountAuthorizationDetails";

    private final Survey survey;
    /**
     * The directory before a change, which knows all policies, and all users and roles but those of one name, whatever their path; absent where
     * nothing was changed.
     */
    private final @Nullable Directory before;

    private final String changed;
    private @Nullable List<Principal> described;
    private @Nullable TrustingRoles trustingRoles;
    private @Nullable List<Reading<HeldPolicy>> organization;
    private final Map<String, Reading<Principal>> principals = new ConcurrentHashMap<>();
    private final Map<String, Optional<HeldPolicy>> managed = new ConcurrentHashMap<>();
    private final Map<String, Map<String, String>> byName = new ConcurrentHashMap<>();
    private @Nullable Optional<String> organizationId;

    public Directory(Survey survey) {
        this(survey, null, "");
    }

    private Directory(Survey survey, @Nullable Directory before, String changed) {
        this.survey = survey;
        this.before = before;
        this.changed = changed;
    }

    /**
     * Returns the directory with another description of one user or role; the others stay parsed.
     *
     * @param changed the survey, with another line about the user or role of this ARN
     */
    public Directory with(Survey changed, String arn) {
        return new Directory(changed, this, arn.substring(arn.lastIndexOf('/') + 1));
    }

    /** Parses the users and roles side by side, and remembers them. Only for who works alone, and asks about all of them. */
    public void readAhead() {
        Stream.of("iam-user", "iam-role").flatMap(aspect -> survey.subjects(aspect).stream()).toList().parallelStream()
                .forEach(arn -> Arn.parse(arn).ifPresent(this::principal));
    }

    /** Returns the users and roles that the survey describes, users first, each kind in the order of the file. */
    public synchronized List<Principal> principals() {
        if (described == null) {
            described = List.copyOf(readPrincipals());
        }
        return described;
    }

    /** Returns the roles that the survey describes, by whom their trust may let in. */
    public synchronized TrustingRoles trustingRoles() {
        if (trustingRoles == null) {
            trustingRoles = new TrustingRoles(principals());
        }
        return trustingRoles;
    }

    /**
     * Returns what keeps users and roles of the account from being known: those that were refused, or all of them where no line asks about
     * any. A user or role that no line speaks of cannot be missed.
     */
    public List<Need> unreadPrincipals() {
        List<Need> needs = new ArrayList<>();
        boolean asked = false;
        for (String aspect : List.of("iam-user", "iam-role")) {
            for (String of : survey.subjects(aspect)) {
                asked = true;
                survey.missing(aspect, of).ifPresent(needs::add);
            }
        }
        // Whose keys were asked for exists, though no line describes him.
        survey.subjects("iam-user-keys").stream()
                .filter(of -> !survey.asked("iam-user", of))
                .forEach(of -> survey.missing("iam-user", of).ifPresent(needs::add));
        return asked || !needs.isEmpty()
                ? needs
                : List.of(new Need("iam-role", survey.header().account(), "never asked", PERMISSION));
    }

    private List<Principal> readPrincipals() {
        List<Principal> all = new ArrayList<>();
        for (String aspect : List.of("iam-user", "iam-role")) {
            for (String arn : survey.subjects(aspect)) {
                Arn.parse(arn).flatMap(parsed -> principal(parsed).found()).ifPresent(all::add);
            }
        }
        return all;
    }

    /** Returns a user or role. What no line describes is unread, since users and roles have no list of their own. */
    public Reading<Principal> principal(Arn arn) {
        if (before != null && !arn.name().equals(changed)) {
            return before.principal(arn);
        }
        return principals.computeIfAbsent(arn.toString(), key -> {
            boolean isRole = arn.resource().startsWith("role/");
            String aspect = isRole ? "iam-role" : "iam-user";
            String subject =
                    survey.asked(aspect, key) ? key : byName(aspect, arn).orElse(key);
            Reading<JsonPart> reading = survey.reading(aspect, subject);
            Arn known = Arn.parse(subject).orElse(arn);
            return reading.fold(
                    found -> new Reading.Found<>(describe(known, isRole, found.value(), found.at()), found.at()),
                    absent -> new Reading.Absent<>(absent.code(), absent.at()),
                    unread -> new Reading.Unread<>(unread.need()));
        });
    }

    /** A session's ARN does not show the role's path, so a role may be known under a longer ARN. */
    private Optional<String> byName(String aspect, Arn arn) {
        return named(aspect, arn.name());
    }

    /** Returns the first subject of an aspect whose ARN ends with this name, whatever its path. */
    private Optional<String> named(String aspect, String name) {
        Map<String, String> subjects = byName.computeIfAbsent(aspect, key -> {
            Map<String, String> names = new HashMap<>();
            for (String of : survey.subjects(key)) {
                int slash = of.lastIndexOf('/');
                if (slash >= 0) {
                    names.putIfAbsent(of.substring(slash + 1), of);
                }
            }
            return names;
        });
        return Optional.ofNullable(subjects.get(name));
    }

    private Principal describe(Arn arn, boolean isRole, JsonPart answer, Citation at) {
        String kind = isRole ? "Role" : "User";
        Optional<PolicyDocument> trust = answer.find("AssumeRolePolicyDocument")
                .map(part -> PolicyParser.parse(part, PolicyKind.TRUST, part.at()));
        return new Principal(
                arn,
                isRole,
                answer.text(kind + "Name").orElse(arn.name()),
                answer.text(kind + "Id").orElse(""),
                Principal.tags(answer),
                trust,
                answer.text("CreateDate").orElse(""),
                holdings(answer, kind, at),
                at);
    }

    private Holdings holdings(JsonPart answer, String kind, Citation at) {
        List<HeldPolicy> policies = new ArrayList<>();
        List<Need> missing = new ArrayList<>();
        collect(answer, kind + "PolicyList", at, policies, missing);
        for (String group : answer.texts("GroupList")) {
            Optional<String> subject = named("iam-group", group);
            Reading<JsonPart> reading = survey.reading("iam-group", subject.orElse("group/" + group));
            reading.fold(
                    found -> {
                        collect(found.value(), "GroupPolicyList", found.at(), policies, missing);
                        return true;
                    },
                    absent -> false,
                    unread -> missing.add(unread.need()));
        }
        Optional<JsonPart> limit = answer.find("PermissionsBoundary", "PermissionsBoundaryArn");
        Optional<HeldPolicy> boundary = limit.flatMap(
                part -> managed(part.scalar().orElse(""), at.at(part.at().toString(), "")));
        Optional<Need> boundaryMissing = limit.isPresent() && boundary.isEmpty()
                ? Optional.of(unread(limit.get().scalar().orElse("")))
                : Optional.empty();
        return new Holdings(policies, missing, boundary, boundaryMissing);
    }

    private void collect(
            JsonPart answer, String inlineList, Citation at, List<HeldPolicy> policies, List<Need> missing) {
        for (JsonPart inline : answer.list(inlineList)) {
            String name = inline.text("PolicyName").orElse("inline");
            inline.find("PolicyDocument")
                    .ifPresent(part -> policies.add(
                            new HeldPolicy(name, PolicyParser.parse(part, PolicyKind.IDENTITY, part.at()), at)));
        }
        for (JsonPart attached : answer.list("AttachedManagedPolicies")) {
            String arn = attached.text("PolicyArn").orElse("");
            Optional<HeldPolicy> policy = managed(arn, at.at(attached.at().toString(), arn));
            policy.ifPresentOrElse(policies::add, () -> missing.add(unread(arn)));
        }
    }

    private Optional<HeldPolicy> managed(String arn, Citation attachedAt) {
        if (before != null) {
            return before.managed(arn, attachedAt);
        }
        if (!survey.asked("iam-policy", arn)) {
            return ManagedPolicies.copyOf(arn, attachedAt);
        }
        return managed.computeIfAbsent(arn, key -> survey.reading("iam-policy", arn)
                .fold(
                        found -> ManagedPolicies.defaultVersion(found.value())
                                .map(document -> new HeldPolicy(nameOf(arn), document, found.at())),
                        absent -> Optional.<HeldPolicy>empty(),
                        unread -> Optional.<HeldPolicy>empty()));
    }

    private Need unread(String policyArn) {
        String why =
                survey.reading("iam-policy", policyArn).missing().map(Need::why).orElse("has no default version");
        return new Need("iam-policy", policyArn, why, PERMISSION);
    }

    private static String nameOf(String arn) {
        return arn.substring(arn.lastIndexOf('/') + 1);
    }

    /**
     * Returns the service control policies that apply to the account; empty when the survey has none, or the account says that it is in no
     * organization.
     */
    public synchronized List<Reading<HeldPolicy>> organizationPolicies() {
        if (before != null) {
            return before.organizationPolicies();
        }
        if (organization == null) {
            List<Reading<HeldPolicy>> all = new ArrayList<>();
            for (String id : survey.subjects(ORGANIZATION)) {
                Reading<HeldPolicy> policy = survey.reading(ORGANIZATION, id)
                        .fold(
                                found -> new Reading.Found<>(organizationPolicy(id, found), found.at()),
                                absent -> new Reading.Absent<>(absent.code(), absent.at()),
                                unread -> new Reading.Unread<>(unread.need()));
                if (!policy.isAbsent()) {
                    all.add(policy);
                }
            }
            organization = List.copyOf(all);
        }
        return organization;
    }

    /** Returns the id of the organization that the account belongs to; absent when no policy's ARN shows it. */
    public synchronized Optional<String> organizationId() {
        if (before != null) {
            return before.organizationId();
        }
        if (organizationId == null) {
            organizationId = readOrganizationId();
        }
        return organizationId;
    }

    private Optional<String> readOrganizationId() {
        return survey.subjects(ORGANIZATION).stream()
                .flatMap(id -> survey.reading(ORGANIZATION, id).found().stream())
                .flatMap(answer ->
                        answer
                                .text("Policy", "PolicySummary", "Arn")
                                .or(() -> answer.text("PolicySummary", "Arn"))
                                .stream())
                .map(ORGANIZATION_ID::matcher)
                .filter(Matcher::find)
                .map(Matcher::group)
                .findFirst();
    }

    /** True when one of the organization's policies allows something, or may: an account under policies that only deny can do nothing. */
    public boolean organizationMayAllow() {
        return organizationPolicies().stream().anyMatch(policy -> policy.found()
                .map(HeldPolicy::document)
                .filter(document -> !document.isOpaque())
                .map(document -> document.statements().stream().anyMatch(Statement::mayAllow))
                .orElse(true));
    }

    /**
     * Returns what keeps from telling what the organization lets through: policies that were refused or are none that the provider accepts,
     * and the one that must allow, where all that were read only deny.
     */
    public List<Need> unreadOrganization() {
        List<Need> needs = new ArrayList<>();
        for (Reading<HeldPolicy> policy : organizationPolicies()) {
            policy.missing().ifPresent(needs::add);
            policy.found()
                    .filter(held -> held.document().isPartlyOpaque())
                    .ifPresent(held -> needs.add(new Need(
                            ORGANIZATION, held.at().subject(), "it is not a policy that the provider accepts", "")));
        }
        if (!organizationPolicies().isEmpty() && !organizationMayAllow()) {
            needs.add(new Need(
                    ORGANIZATION,
                    survey.header().account(),
                    "all organization policies that were read only deny, so that one which allows must be missing",
                    "organizations:DescribePolicy"));
        }
        return needs;
    }

    private static HeldPolicy organizationPolicy(String id, Reading.Found<JsonPart> found) {
        JsonPart policy = found.value().find("Policy").orElse(found.value());
        JsonPart content = policy.find("Content").orElse(policy);
        PolicyDocument document = PolicyParser.parse(content, PolicyKind.ORGANIZATION, Pointer.ROOT);
        return new HeldPolicy(policy.text("PolicySummary", "Name").orElse(id), document, found.at());
    }
}
