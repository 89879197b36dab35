package warden.gather.aws.pipeline;

import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import warden.core.pipeline.Operation;
import warden.gather.pipeline.Cmdlets;
import warden.gather.pipeline.JobContext;
import warden.gather.pipeline.PowerShellReader.Statement;

/**
 * The first provider's cmdlets. What each does is not read yet: none of those that call a service is taken for harmless. Source: AWS Tools for
 * PowerShell Cmdlet Reference, "Cmdlets by service", whose nouns begin with the service's prefix.
 */
final class AwsCmdlets implements Cmdlets {
    /** How nouns begin of the services that a site's storage, edge, certificates, names and credentials lie with, and of the tools' settings. */
    private static final String NOUNS = "(s3|cf|sts|iam|r53|acm|waf2|kms|ssm|org|aws|defaultaws)";

    private static final Pattern OF_PROVIDER = Pattern.compile("[a-z]+-" + NOUNS + "[a-z0-9]*");
    private static final Pattern MENTIONED = Pattern.compile("(?i)\\b[a-z]+-" + NOUNS + "[a-z0-9]+");

    /** What needs no permission: settings of the session, and who one is. */
    private static final Set<String> HARMLESS = Set.of(
            "get-stscalleridentity",
            "set-defaultawsregion",
            "get-defaultawsregion",
            "clear-defaultawsregion",
            "get-awsregion",
            "get-awscredential",
            "get-awspowershellversion",
            "set-awsproxy",
            "clear-awscredential");

    private final JobContext job;

    AwsCmdlets(JobContext job) {
        this.job = job;
    }

    @Override
    public boolean isOne(String name) {
        return OF_PROVIDER.matcher(name).matches();
    }

    @Override
    public boolean mayStandIn(String text) {
        return MENTIONED.matcher(text).find();
    }

    @Override
    public void call(Statement statement, Optional<Statement> before) {
        String name = statement.words().get(0).text();
        if (!HARMLESS.contains(name.toLowerCase(Locale.ROOT))) {
            job.add(
                    new Operation.NotUnderstood("which permission " + name + " takes is not known"),
                    statement.line(),
                    statement.spelled(),
                    job.credential(),
                    AwsTools.PROVIDER);
        }
    }
}
