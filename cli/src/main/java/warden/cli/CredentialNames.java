package warden.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import warden.core.aws.account.Account;
import warden.core.aws.identity.Principal;
import warden.core.aws.policy.Arn;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.document.DisplayText;
import warden.core.document.Words;

/** Understands how people name a user or a role: its ARN, or its name where only one bears it. */
final class CredentialNames {
    private static final int MOST_NAMED = 8;

    private CredentialNames() {}

    /** Returns the credential that a word names; ends the command when it names none, or several bear the name. */
    static PublishingPrincipal demand(AwsCloud cloud, String word) {
        return demand(cloud, word, "--credential");
    }

    /** As {@link #demand(AwsCloud, String)}, for a word that another option names. */
    static PublishingPrincipal demand(AwsCloud cloud, String word, String option) {
        List<PublishingPrincipal> named = new ArrayList<>();
        List<String> all = new ArrayList<>();
        for (Account account : cloud.accounts()) {
            Optional<Principal> byArn = Arn.parse(word)
                    .flatMap(arn -> account.directory().principal(arn).found());
            byArn.ifPresent(principal -> named.add(new PublishingPrincipal(account, principal, List.of())));
            for (Principal principal : account.directory().principals()) {
                all.add(principal.arn().toString());
                if (byArn.isEmpty() && principal.name().equals(word)) {
                    named.add(new PublishingPrincipal(account, principal, List.of()));
                }
            }
        }
        if (named.size() == 1) {
            return named.get(0);
        }
        throw new InputException(
                ExitCode.WRONG_COMMAND,
                named.isEmpty()
                        ? option + ": the survey describes no user or role " + DisplayText.name(word) + known(all, word)
                        : option + ": several are called " + DisplayText.name(word) + ": "
                                + named.stream().map(PublishingPrincipal::arn).collect(Collectors.joining(", "))
                                + "; name one by its ARN");
    }

    private static String known(List<String> all, String word) {
        if (all.isEmpty()) {
            return ", nor any other; survey with iam:GetAccountAuthorizationDetails";
        }
        List<String> names = new ArrayList<>(all);
        all.forEach(arn -> names.add(arn.substring(arn.lastIndexOf('/') + 1)));
        return Words.perhaps(word, names)
                .orElseGet(() -> "; known are " + all.stream().limit(MOST_NAMED).collect(Collectors.joining(", ")));
    }
}
