package warden.core.aws.policy;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.aws.policy.ActionClause.ActionPattern;
import warden.core.aws.policy.Condition.Quantifier;
import warden.core.aws.policy.ResourceClause.ResourcePattern;
import warden.core.aws.policy.ValueTemplate.Wildcards;
import warden.core.document.DisplayText;
import warden.core.document.JsonPart;
import warden.core.document.JsonPart.JsonArray;
import warden.core.document.JsonPart.JsonNull;
import warden.core.document.JsonPart.JsonObject;
import warden.core.document.JsonPart.JsonText;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.document.Pointer;
import warden.core.document.Words;

/**
 * Parses policy documents. Never throws for a bad document: what is wrong is listed, and a statement whose meaning is lost is kept as opaque, so
 * that nobody mistakes it for "no statement".
 *
 * <p>Source: IAM User Guide, "Grammar of the IAM JSON policy language".
 */
public final class PolicyParser {
    private static final Set<String> DOCUMENT_MEMBERS = Set.of("Version", "Id", "Statement");
    private static final Set<String> STATEMENT_MEMBERS = Set.of(
            "Sid",
            "Effect",
            "Principal",
            "NotPrincipal",
            "Action",
            "NotAction",
            "Resource",
            "NotResource",
            "Condition");
    private static final Pattern SID = Pattern.compile("[A-Za-z0-9]*");
    private static final Pattern ACTION = Pattern.compile("[A-Za-z0-9-]+:[A-Za-z0-9*?]+");
    private static final String NEWEST = "2012-10-17";
    private static final Set<String> VERSIONS = Set.of(NEWEST, "2008-10-17");

    private final PolicyKind kind;
    private final List<PolicyProblem> problems = new ArrayList<>();
    private boolean variables;
    private boolean meaningLost;

    private PolicyParser(PolicyKind kind) {
        this.kind = kind;
    }

    /**
     * Parses a policy as a survey holds it: as an object, as JSON text, or as percent-encoded JSON text.
     *
     * @param part where it stands; pointers within text begin at {@code base}
     */
    public static PolicyDocument parse(JsonPart part, PolicyKind kind, Pointer base) {
        if (part instanceof JsonText text) {
            return parse(text.value(), kind, base);
        }
        return new PolicyParser(kind).document(part, 0);
    }

    /** Parses a policy's text. */
    public static PolicyDocument parse(String text, PolicyKind kind, Pointer base) {
        PolicyParser parser = new PolicyParser(kind);
        String plain = decoded(text);
        JsonReader.Result json = JsonReader.read(plain, base);
        json.problems().forEach(problem -> parser.lost(problem.at(), problem.says()));
        if (!json.problems().isEmpty() || json.root().isEmpty()) {
            return new PolicyDocument(kind, "", true, List.of(), parser.problems, plain.length());
        }
        return parser.document(json.root().get(), plain.length());
    }

    /** IAM answers hold policies percent-encoded after RFC 3986, in which a plus sign is a plus sign. */
    private static String decoded(String text) {
        if (!text.startsWith("%7B") && !text.startsWith("%7b")) {
            return text;
        }
        try {
            return URLDecoder.decode(text.replace("+", "%2B"), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException notEncoded) {
            return text;
        }
    }

    private void lost(Pointer at, String says) {
        problems.add(new PolicyProblem(at, says, true));
        meaningLost = true;
    }

    private void refused(Pointer at, String says) {
        problems.add(new PolicyProblem(at, says, false));
    }

    private PolicyDocument document(JsonPart root, int size) {
        if (!(root instanceof JsonObject object)) {
            lost(root.at(), "is " + root.kind() + ", not an object");
            return new PolicyDocument(kind, "", true, List.of(), problems, size);
        }
        for (Map.Entry<String, JsonPart> member : object.members().entrySet()) {
            if (!DOCUMENT_MEMBERS.contains(member.getKey())) {
                lost(member.getValue().at(), "is no member that a policy has");
            }
        }
        String version = version(object);
        variables = version.equals(NEWEST);
        boolean opaque = meaningLost;
        List<Statement> statements = new ArrayList<>();
        JsonPart all = object.members().get("Statement");
        if (all == null) {
            lost(root.at(), "has no Statement");
            opaque = true;
        } else if (all instanceof JsonArray list) {
            if (list.items().isEmpty()) {
                refused(list.at(), "is an empty list of statements");
            }
            list.items().forEach(item -> statements.add(statement(item, statements.size())));
        } else {
            statements.add(statement(all, 0));
        }
        duplicateSids(statements);
        return new PolicyDocument(kind, version, opaque, statements, problems, size);
    }

    private String version(JsonObject object) {
        JsonPart version = object.members().get("Version");
        if (version == null) {
            return "2008-10-17";
        }
        if (version instanceof JsonText text && VERSIONS.contains(text.value())) {
            return text.value();
        }
        lost(version.at(), "is not a version of the policy language; use \"" + NEWEST + "\"");
        return "";
    }

    private void duplicateSids(List<Statement> statements) {
        Set<String> seen = new HashSet<>();
        for (Statement statement : statements) {
            if (!statement.sid().isEmpty() && !seen.add(statement.sid())) {
                refused(statement.at().member("Sid"), "repeats the Sid of another statement");
            }
        }
    }

    private Statement statement(JsonPart part, int index) {
        meaningLost = false;
        String text = JsonSpelling.of(part);
        if (!(part instanceof JsonObject object)) {
            lost(part.at(), "is " + part.kind() + ", not a statement");
            return opaque(index, part.at(), text);
        }
        for (Map.Entry<String, JsonPart> member : object.members().entrySet()) {
            if (!STATEMENT_MEMBERS.contains(member.getKey())) {
                lost(
                        member.getValue().at(),
                        "is no member that a statement has"
                                + Words.perhaps(member.getKey(), STATEMENT_MEMBERS)
                                        .orElse(""));
            }
        }
        String sid = sid(object);
        Effect effect = effect(object);
        Optional<PrincipalClause> principals = principals(object);
        ActionClause actions = actions(object);
        Optional<ResourceClause> resources = resources(object);
        List<Condition> conditions = conditions(object);
        if (meaningLost) {
            return opaque(index, part.at(), text);
        }
        return new Statement(index, part.at(), text, sid, false, effect, principals, actions, resources, conditions);
    }

    private static Statement opaque(int index, Pointer at, String text) {
        return new Statement(
                index,
                at,
                text,
                "",
                true,
                Effect.DENY,
                Optional.empty(),
                new ActionClause(true, List.of()),
                Optional.empty(),
                List.of());
    }

    private String sid(JsonObject object) {
        JsonPart sid = object.members().get("Sid");
        if (sid == null) {
            return "";
        }
        if (!(sid instanceof JsonText text)) {
            refused(sid.at(), "is " + sid.kind() + "; a Sid is a text");
            return "";
        }
        if (kind == PolicyKind.IDENTITY && !SID.matcher(text.value()).matches()) {
            refused(sid.at(), "has characters other than letters and digits, which a Sid here may not have");
        }
        return text.value();
    }

    private Effect effect(JsonObject object) {
        JsonPart effect = object.members().get("Effect");
        String word = effect instanceof JsonText text ? text.value() : "";
        if (word.equals("Allow")) {
            return Effect.ALLOW;
        }
        if (effect == null) {
            lost(object.at(), "has no Effect");
        } else if (!word.equals("Deny")) {
            lost(effect.at(), "must be exactly \"Allow\" or \"Deny\"");
        }
        return Effect.DENY;
    }

    /** Of two opposite members a statement has one at most; returns it, and whether it is the negated one. */
    private Optional<Map.Entry<JsonPart, Boolean>> oneOf(JsonObject object, String plain, String negated) {
        JsonPart first = object.members().get(plain);
        JsonPart second = object.members().get(negated);
        if (first != null && second != null) {
            lost(object.at(), "has both " + plain + " and " + negated + "; keep one of the two");
            return Optional.empty();
        }
        if (first == null && second == null) {
            return Optional.empty();
        }
        return Optional.of(first != null ? Map.entry(first, false) : Map.entry(second, true));
    }

    private Optional<PrincipalClause> principals(JsonObject object) {
        Optional<Map.Entry<JsonPart, Boolean>> member = oneOf(object, "Principal", "NotPrincipal");
        if (member.isEmpty()) {
            if (kind.namesPrincipals() && !object.members().containsKey("Principal")) {
                lost(object.at(), "has no Principal, which " + kind.called() + " needs");
            }
            return Optional.empty();
        }
        JsonPart part = member.get().getKey();
        if (!kind.namesPrincipals()) {
            lost(part.at(), "must not stand here: " + kind.called() + " is about those it is attached to");
            return Optional.empty();
        }
        List<PrincipalElement> elements = new ArrayList<>();
        if (part instanceof JsonText text) {
            if (!text.value().equals("*")) {
                refused(part.at(), "must be \"*\" or an object such as {\"AWS\":\"…\"}");
            }
            elements.add(
                    text.value().equals("*") ? new PrincipalElement.Everyone() : PrincipalElement.ofAws(text.value()));
        } else if (part instanceof JsonObject kinds && !kinds.members().isEmpty()) {
            kinds.members().forEach((name, values) -> principalElements(name, values, elements));
        } else {
            lost(part.at(), "must be \"*\" or an object such as {\"AWS\":\"…\"}");
        }
        return Optional.of(new PrincipalClause(member.get().getValue(), elements));
    }

    private void principalElements(String name, JsonPart values, List<PrincipalElement> elements) {
        for (JsonText text : texts(values, "principals")) {
            switch (name) {
                case "AWS" -> {
                    PrincipalElement element = PrincipalElement.ofAws(text.value());
                    if (element instanceof PrincipalElement.Unrecognised) {
                        refused(
                                text.at(),
                                "is no principal: write an account number, the ARN of a user or role, or \"*\"");
                    }
                    elements.add(element);
                }
                case "Service" -> {
                    if (text.value().indexOf('*') >= 0) {
                        refused(text.at(), "must name one service; a wildcard is not allowed here");
                        elements.add(new PrincipalElement.Unrecognised(text.value()));
                    } else {
                        elements.add(new PrincipalElement.ServiceName(text.value()));
                    }
                }
                case "Federated" -> elements.add(new PrincipalElement.Federated(text.value()));
                case "CanonicalUser" -> elements.add(new PrincipalElement.CanonicalUser(text.value()));
                default ->
                    lost(values.at(), "is no kind of principal; known are AWS, Service, Federated, CanonicalUser");
            }
        }
    }

    private ActionClause actions(JsonObject object) {
        Optional<Map.Entry<JsonPart, Boolean>> member = oneOf(object, "Action", "NotAction");
        if (member.isEmpty()) {
            if (!object.members().containsKey("Action")) {
                lost(object.at(), "has neither Action nor NotAction");
            }
            return new ActionClause(false, List.of());
        }
        List<ActionPattern> patterns = new ArrayList<>();
        for (JsonText text : texts(member.get().getKey(), "actions")) {
            if (!Set.of("*", "*:*").contains(text.value())
                    && !ACTION.matcher(text.value()).matches()) {
                lost(text.at(), "is no action; an action is a service and a name, such as s3:GetObject");
            }
            patterns.add(ActionPattern.of(text.at(), text.value()));
        }
        return new ActionClause(member.get().getValue(), patterns);
    }

    private Optional<ResourceClause> resources(JsonObject object) {
        Optional<Map.Entry<JsonPart, Boolean>> member = oneOf(object, "Resource", "NotResource");
        if (member.isEmpty()) {
            if (kind != PolicyKind.TRUST && !object.members().containsKey("Resource")) {
                lost(object.at(), "has neither Resource nor NotResource");
            }
            return Optional.empty();
        }
        if (kind == PolicyKind.TRUST) {
            lost(member.get().getKey().at(), "must not stand here: a trust policy is about its own role");
            return Optional.empty();
        }
        List<ResourcePattern> patterns = new ArrayList<>();
        for (JsonText text : texts(member.get().getKey(), "resources")) {
            Optional<ValueTemplate> template = ValueTemplate.parse(
                    text.value(), text.value().equals("*") ? Wildcards.ANYWHERE : Wildcards.AS_IN_ARNS, variables);
            boolean isArn =
                    text.value().split(":", 6).length == 6 && text.value().startsWith("arn:");
            if (template.isEmpty()) {
                lost(text.at(), "opens a policy variable and does not close it");
            } else if (!isArn && !text.value().equals("*")) {
                lost(text.at(), "is no resource; write an ARN with six parts, or \"*\"");
            } else {
                patterns.add(new ResourcePattern(text.at(), text.value(), template.get()));
            }
        }
        return Optional.of(new ResourceClause(member.get().getValue(), patterns));
    }

    private List<Condition> conditions(JsonObject object) {
        JsonPart block = object.members().get("Condition");
        List<Condition> conditions = new ArrayList<>();
        if (block == null) {
            return conditions;
        }
        if (!(block instanceof JsonObject operators)) {
            lost(block.at(), "is " + block.kind() + "; a Condition is an object of operators");
            return conditions;
        }
        operators.members().forEach((word, keys) -> {
            if (keys instanceof JsonObject byKey) {
                byKey.members()
                        .forEach((key, values) -> condition(word, key, values).ifPresent(conditions::add));
            } else {
                lost(keys.at(), "is " + keys.kind() + "; an operator holds an object of condition keys");
            }
        });
        return conditions;
    }

    private Optional<Condition> condition(String word, String key, JsonPart values) {
        Quantifier quantifier = word.startsWith("ForAllValues:")
                ? Quantifier.ALL
                : word.startsWith("ForAnyValue:") ? Quantifier.ANY : Quantifier.NONE;
        String bare = quantifier == Quantifier.NONE ? word : word.substring(word.indexOf(':') + 1);
        boolean ifExists = bare.endsWith("IfExists");
        bare = ifExists ? bare.substring(0, bare.length() - "IfExists".length()) : bare;
        Optional<Operator> operator = Operator.named(bare);
        if (operator.isEmpty() || (ifExists && operator.get() == Operator.NULL)) {
            lost(values.at(), "stands under \"" + DisplayText.name(word) + "\", which is no condition operator");
            return Optional.empty();
        }
        if (key.isEmpty() || key.indexOf(':') <= 0) {
            lost(values.at(), "is no condition key; a key has a prefix, such as aws:SourceIp");
            return Optional.empty();
        }
        List<String> texts = new ArrayList<>();
        List<ValueTest> tests = new ArrayList<>();
        for (JsonPart value : values instanceof JsonArray list ? list.items() : List.of(values)) {
            Optional<String> scalar = value.scalar();
            Optional<ValueTest> test = scalar.flatMap(text -> ValueTest.of(operator.get(), text, variables));
            if (test.isEmpty()) {
                lost(value.at(), "is no value that " + operator.get().word() + " can compare");
                return Optional.empty();
            }
            texts.add(scalar.get());
            tests.add(test.get());
        }
        if (texts.isEmpty()) {
            lost(values.at(), "is an empty list of values, for which the provider gives no meaning");
        }
        return Optional.of(new Condition(values.at(), operator.get(), quantifier, ifExists, key, texts, tests));
    }

    private List<JsonText> texts(JsonPart values, String called) {
        List<JsonText> texts = new ArrayList<>();
        List<JsonPart> items = values instanceof JsonArray list ? list.items() : List.of(values);
        if (items.isEmpty()) {
            lost(values.at(), "is an empty list of " + called);
        }
        for (JsonPart item : items) {
            if (item instanceof JsonText text && !text.value().isEmpty()) {
                texts.add(text);
            } else {
                lost(
                        item.at(),
                        (item instanceof JsonNull ? "is null" : "is " + item.kind() + " that is no text, or empty")
                                + "; write " + called + " as texts");
            }
        }
        return texts;
    }
}
