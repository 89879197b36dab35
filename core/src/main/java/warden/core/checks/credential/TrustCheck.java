package warden.core.checks.credential;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.account.Account;
import warden.core.check.Check;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Verdict;
import warden.core.identity.Principal;
import warden.core.policy.PolicyDocument;
import warden.core.policy.Statement;
import warden.core.site.Site;
import warden.core.survey.Citation;

/** A check that asks its question of every role's trust policy. */
interface TrustCheck extends Check {
    /** One role, and who may assume it. */
    record Subject(Setup setup, Principal role, PolicyDocument trust) {
        /** Returns the name of the site that the role publishes; absent when it publishes none. */
        Optional<String> site() {
            return setup.deployments().publisher(role.arn().toString()).stream()
                    .flatMap(publisher -> publisher.sites().stream())
                    .findFirst()
                    .map(Site::name);
        }

        /** Returns a finding about one statement of the trust policy. */
        Finding finding(warden.core.check.CheckCard card, Statement statement, String says) {
            Citation at = role.at().at(statement.at().toString(), statement.text());
            return Finding.of(card, role.arn().toString(), site(), says, List.of(at))
                    .at(statement.at().toString());
        }
    }

    /** Returns the findings about one role; absent where the question does not apply to it. */
    Optional<List<Finding>> examine(Subject subject);

    @Override
    default List<Verdict> examine(Setup setup) {
        List<Verdict> verdicts = new ArrayList<>();
        for (Account account : setup.estate().accounts()) {
            for (Principal role : account.directory().principals()) {
                Optional<Subject> subject = role.trust().map(trust -> new Subject(setup, role, trust));
                subject.flatMap(this::examine).ifPresent(findings -> {
                    findings.forEach(finding -> verdicts.add(new Verdict.Flagged(finding)));
                    if (findings.isEmpty()) {
                        verdicts.add(new Verdict.Clean(
                                role.arn().toString(), subject.get().site()));
                    }
                });
            }
        }
        // A refused listing of users is one of roles too: both come from one call.
        verdicts.addAll(CredentialNeeds.unread(
                setup, need -> need.aspect().equals("iam-role") || need.of().endsWith("*")));
        return verdicts;
    }
}
