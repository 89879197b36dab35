package warden.core.aws.decision;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import warden.core.access.Truth;
import warden.core.aws.identity.HeldPolicy;
import warden.core.aws.policy.Condition;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PrincipalClause;
import warden.core.aws.policy.Statement;
import warden.core.aws.storage.Bucket;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** Weighs the rules by truth, for one request, and keeps the reasons. */
final class OneRequest implements Weighing<Truth> {
    private final Request request;
    private final String action;
    private final Context context;
    private final AclSide accessLists;
    private final KeySide keys;
    private final DecisionEvidence ledger;

    /**
     * Makes ready.
     *
     * @param request with all that follows from caller and resource
     */
    OneRequest(Request request, AclSide accessLists, KeySide keys, DecisionEvidence ledger) {
        this.request = request;
        this.action = request.lowerCaseAction();
        this.context = request.context();
        this.accessLists = accessLists;
        this.keys = keys;
        this.ledger = ledger;
    }

    @Override
    public Truth of(Truth truth) {
        return truth;
    }

    @Override
    public Truth union(Truth one, Truth other) {
        return one.or(other);
    }

    @Override
    public Truth intersect(Truth one, Truth other) {
        return one.and(other);
    }

    @Override
    public Truth minus(Truth whole, Truth taken) {
        return whole.and(taken.not());
    }

    @Override
    public boolean isNone(Truth value) {
        return value == Truth.FALSE;
    }

    @Override
    public boolean isAll(Truth value) {
        return value == Truth.TRUE;
    }

    @Override
    public List<Statement> speaking(PolicyDocument document) {
        return document.statements();
    }

    private Truth covers(Optional<Statement> statement) {
        return statement
                .map(each -> each.covers(action, request.resource(), context))
                .orElse(Truth.UNKNOWN);
    }

    @Override
    public Truth allow(HeldPolicy policy, Optional<Statement> statement, PrincipalClause.Named named, Part part) {
        Truth truth = covers(statement).and(named.truth());
        if (truth == Truth.TRUE) {
            if (part == Part.IDENTITY || part == Part.RESOURCE) {
                ledger.allows.add(cite(policy, statement));
            }
            ledger.step(
                    () -> called(policy, part) + ": " + called(statement) + " allows it" + naming(named, part) + ".");
        } else if (truth == Truth.UNKNOWN) {
            ledger.open(cite(policy, statement), openPoint(statement));
            ledger.step(() ->
                    called(policy, part) + ": " + called(statement) + " may allow it" + why(statement, part) + ".");
        }
        return truth;
    }

    @Override
    public Truth deny(HeldPolicy policy, Optional<Statement> statement, Truth means, Part part) {
        Truth truth = covers(statement).and(means);
        if (truth == Truth.TRUE) {
            ledger.denies.add(cite(policy, statement));
            ledger.step(() -> called(policy, part) + ": " + called(statement) + " denies it.");
        } else if (truth == Truth.UNKNOWN) {
            ledger.open(cite(policy, statement), openPoint(statement));
            ledger.step(() ->
                    called(policy, part) + ": " + called(statement) + " may deny it" + why(statement, part) + ".");
        }
        return truth;
    }

    private static Citation cite(HeldPolicy policy, Optional<Statement> statement) {
        return statement.map(policy::cite).orElse(policy.at());
    }

    private static String called(HeldPolicy policy, Part part) {
        return part == Part.RESOURCE ? AccessRules.capital(policy.name()) : "\"" + policy.name() + "\"";
    }

    private static String called(Optional<Statement> statement) {
        return statement.map(Statement::called).orElse("the document");
    }

    private String why(Optional<Statement> statement, Part part) {
        return part == Part.RESOURCE ? ": " + openPoint(statement) : "";
    }

    private static String naming(PrincipalClause.Named named, Part part) {
        if (part != Part.RESOURCE) {
            return "";
        }
        return switch (named.naming()) {
            case ACCOUNT -> ", by delegation to the caller's account";
            case ROLE, ITSELF -> "";
            case EVERYONE -> " to everyone";
        };
    }

    /** Says what keeps a statement from being certain. */
    private String openPoint(Optional<Statement> statement) {
        if (statement.isEmpty() || statement.get().isOpaque()) {
            return "the document is not one that the provider accepts, so what is in force is not known";
        }
        for (Condition condition : statement.get().conditions()) {
            if (context.get(condition.lowerCaseKey()) instanceof ContextValue.OneOf) {
                return "the value of " + condition.key() + " is not known";
            }
            if (condition.holds(context) == Truth.UNKNOWN) {
                return "whether \"" + condition.spelled() + "\" holds is not settled";
            }
        }
        return "whether the principal named is this caller is not known";
    }

    @Override
    public Truth byAccessLists(Bucket bucket) {
        return accessLists.grants(bucket, request, action, ledger);
    }

    @Override
    public Truth foreignOwned(Bucket bucket) {
        Truth foreign = accessLists.foreignOwned(bucket, request.resource());
        if (foreign != Truth.FALSE) {
            ledger.step(() -> "The object's ACL shows another owner, so only that ACL can admit a reader.");
        }
        if (foreign == Truth.UNKNOWN) {
            ledger.need(
                    new Need("bucket-acl", bucket.arn(), "whether the object has another owner", "s3:GetBucketAcl"));
        }
        return foreign;
    }

    @Override
    public Truth ownAccountByAccessLists(Bucket bucket) {
        return accessLists.grantsOwnAccount(bucket, request.resource(), action);
    }

    @Override
    public Truth keyLets(Bucket bucket) {
        return keys.lets(bucket, request, action, ledger);
    }

    @Override
    public Truth underDenyingOrganization() {
        return Truth.FALSE;
    }

    @Override
    public void need(Need need) {
        ledger.need(need);
    }

    @Override
    public void limit(Citation setting) {
        ledger.limits.add(setting);
    }

    @Override
    public void assume(String what) {
        ledger.assumes.add(what);
    }

    @Override
    public void step(Supplier<String> sentence) {
        ledger.step(sentence);
    }
}
