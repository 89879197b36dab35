package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.Statement;
import warden.core.aws.site.BucketSite;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** A check that asks its question of every role's trust policy. */
interface TrustCheck extends AwsCheck<TrustCheck.Subject> {
    /** One role, and who may assume it. */
    record Subject(AwsContext context, Principal role, PolicyDocument trust) implements Judged {
        /** Returns the name of the site that the role publishes; absent when it publishes none. */
        Optional<String> site() {
            return context.deployments().publisher(role.arn().toString()).stream()
                    .flatMap(publisher -> publisher.sites().stream())
                    .findFirst()
                    .map(BucketSite::name);
        }

        /** Returns a finding about one statement of the trust policy. */
        Finding finding(CheckCard card, Statement statement, String says) {
            Citation at = role.at().at(statement.at().toString(), statement.text());
            return Finding.of(card, role.arn().toString(), site(), says, List.of(at))
                    .at(statement.at().toString())
                    .meaning(statement.meaning());
        }

        Verdict clean() {
            return new Verdict.Clean(role.arn().toString(), site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(role.arn().toString(), site(), needs);
        }
    }

    /** Returns the findings about one role; absent where the question does not apply to it. */
    Optional<List<Finding>> judge(Subject subject);

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(TrustCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            for (Principal role : account.directory().principals()) {
                role.trust().ifPresent(trust -> subjects.add(new Subject(context, role, trust)));
            }
        }
        return subjects;
    }

    /** A trust policy that cannot be made out may let in anybody. */
    @Override
    default List<Verdict> examine(Subject subject) {
        Optional<List<Finding>> findings = judge(subject);
        if (findings.filter(found -> !found.isEmpty()).isPresent()) {
            return findings.get().stream().<Verdict>map(Verdict.Flagged::new).toList();
        }
        if (subject.trust().isPartlyOpaque()) {
            return List.of(subject.unknown(List.of(new Need(
                    "iam-role",
                    subject.role().arn().toString(),
                    "its trust policy is not one that the provider accepts",
                    ""))));
        }
        return findings.isPresent() ? List.of(subject.clean()) : List.of();
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        // A refused listing of users is one of roles too: both come from one call.
        List<Verdict> open = new ArrayList<>(CredentialNeeds.unread(
                context, need -> need.aspect().equals("iam-role") || need.of().endsWith("*")));
        for (Account account : context.cloud().accounts()) {
            for (Principal role : account.directory().principals()) {
                if (role.isRole() && role.trust().isEmpty()) {
                    String arn = role.arn().toString();
                    open.add(new Verdict.Unknown(
                            arn,
                            Optional.empty(),
                            List.of(new Need("iam-role", arn, "shows no trust policy", "iam:GetRole"))));
                }
            }
        }
        return open;
    }
}
