package warden.gather.pipeline;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.Operation;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;

/**
 * Understands the well-known steps that others publish for workflows: the host's own, the providers' for signing in, and common ones for
 * uploading and invalidating. Source: the README of each.
 */
final class ReusableSteps {
    private static final Set<String> HARMLESS_OWNERS = Set.of("actions", "github");
    private static final String AZURE = AzureAuthentication.PROVIDER;
    private static final Pattern CLIENT_ID = Pattern.compile("\"clientId\"\\s*:\\s*\"([^\"]+)\"");

    private final JobContext here;
    private final JobContext job;
    private final Yaml step;

    /**
     * Makes ready.
     *
     * @param here what is in force for the step
     * @param job what is in force for the steps after it
     * @param step as the file writes it
     */
    ReusableSteps(JobContext here, JobContext job, Yaml step) {
        this.here = here;
        this.job = job;
        this.step = step;
    }

    /** Adds what the step {@code OWNER/NAME@VERSION} does with its inputs. */
    void read(String uses, Map<String, PipelineValue> with, int line) {
        int at = uses.lastIndexOf('@');
        String name = at < 0 ? uses : uses.substring(0, at);
        String version = at < 0 ? "" : uses.substring(at + 1);
        String spelled = "uses: " + uses;
        if (name.startsWith("./") || name.startsWith("docker://")) {
            here.add(new Operation.NotUnderstood("what the step " + name + " does is not in this file"), line, spelled);
            return;
        }
        if (!HARMLESS_OWNERS.contains(owner(name))
                && !name.equals("aws-actions/configure-aws-credentials")
                && !owner(name).equals(AZURE)) {
            here.add(new Operation.Reusable(name, version, receivesSecrets(with)), line, spelled);
        } else if (!owner(name).equals("actions") && !owner(name).equals("github")) {
            signIn(name, with, line);
            boolean isAzure = owner(name).equals(AZURE);
            here.add(
                    new Operation.Reusable(name, version, receivesSecrets(with)),
                    line,
                    spelled,
                    isAzure ? here.signedIn(AzureAuthentication.CLI) : here.credential(),
                    isAzure ? AZURE : "");
        }
        what(name, with).forEach(operation -> here.add(operation, line, spelled));
    }

    /** The pipeline's own token is no secret of the publisher's. */
    private static boolean receivesSecrets(Map<String, PipelineValue> with) {
        return with.values().stream()
                .flatMap(value -> value.open().stream())
                .anyMatch(name -> name.startsWith("secrets.") && !name.equals("secrets.GITHUB_TOKEN"));
    }

    private static String owner(String name) {
        return name.indexOf('/') < 0 ? "" : name.substring(0, name.indexOf('/')).toLowerCase(java.util.Locale.ROOT);
    }

    private void signIn(String name, Map<String, PipelineValue> with, int line) {
        if (name.equalsIgnoreCase("azure/login")) {
            signInToAzure(with, line);
            return;
        }
        if (!name.equals("aws-actions/configure-aws-credentials")) {
            return;
        }
        Optional<PipelineValue> region = Optional.ofNullable(with.get("aws-region"));
        PipelineValue role = with.get("role-to-assume");
        PipelineValue key = with.get("aws-access-key-id");
        if (key != null) {
            job.use(new CredentialUse(Kind.ACCESS_KEY, role == null ? key : role, region, line));
        } else if (role != null) {
            job.use(new CredentialUse(Kind.ROLE_BY_TOKEN, role, region, line));
        }
    }

    /** Source: README of the provider's step for signing in, inputs creds, client-id, auth-type. */
    private void signInToAzure(Map<String, PipelineValue> with, int line) {
        PipelineValue creds = with.get("creds");
        PipelineValue client = with.get("client-id");
        boolean isIdentity =
                with.getOrDefault("auth-type", PipelineValue.of("")).text().equalsIgnoreCase("IDENTITY");
        Optional<PipelineValue> named = Optional.ofNullable(client);
        if (client == null && creds != null) {
            Matcher id = CLIENT_ID.matcher(creds.text());
            named = id.find() && id.group(1).indexOf('$') < 0
                    ? Optional.of(PipelineValue.of(id.group(1)))
                    : Optional.of(new PipelineValue(creds.text(), creds.open()));
        }
        CredentialUse use = AzureAuthentication.principal(
                isIdentity
                        ? Kind.MANAGED_IDENTITY
                        : client == null && creds != null ? Kind.PRINCIPAL_BY_PASSWORD : Kind.PRINCIPAL_BY_TOKEN,
                named,
                line);
        job.signIn(AzureAuthentication.CLI, use);
        job.signIn(PowerShellScript.SESSION, use);
    }

    private Optional<Yaml> inlineScript() {
        return step.find("with", "inlineScript");
    }

    private List<Operation> what(String name, Map<String, PipelineValue> with) {
        return switch (name) {
            case "actions/checkout" ->
                List.of(new Operation.Checkout(
                        with.getOrDefault("ref", PipelineValue.of("")).text()));
            case "jakejarvis/s3-sync-action" -> List.of(syncByVariables(with));
            case "reggionick/s3-deploy" -> uploadAndInvalidate(with);
            case "chetan/invalidate-cloudfront-action", "docker://chetan/invalidate-cloudfront-action" ->
                List.of(new Operation.Invalidate(variable("DISTRIBUTION"), false));
            case "azure/CLI", "azure/cli", "Azure/CLI", "Azure/cli" -> {
                inlineScript().ifPresent(script -> new Commands(here).script(script.text(), script.textLine()));
                yield List.of();
            }
            case "azure/powershell", "Azure/powershell" -> {
                inlineScript().ifPresent(script -> PowerShellScript.read(script.text(), script.textLine(), here));
                yield List.of();
            }
            // It works with a token of a managed front, and with no role.
            case "azure/static-web-apps-deploy", "Azure/static-web-apps-deploy" -> List.of(new Operation.Nothing());
            case "aws-actions/configure-aws-credentials", "azure/login", "Azure/login" ->
                List.of(new Operation.Nothing());
            default ->
                HARMLESS_OWNERS.contains(owner(name))
                        ? List.of(new Operation.Nothing())
                        : harmlessByName(name)
                                ? List.of(
                                        name.matches(".*(build|hugo|jekyll).*")
                                                ? new Operation.Build()
                                                : new Operation.Nothing())
                                : List.of(new Operation.NotUnderstood("what the step " + name + " does is not known"));
        };
    }

    /** Steps that set up tools, or tell people, change nothing in the cloud. */
    private static boolean harmlessByName(String name) {
        return name.matches(
                "(?i).*/(setup-|install-|cache|action-setup|actions-hugo|checkout|slack|notify|labeler|.*lint.*"
                        + "|.*-?build-?.*).*");
    }

    private PipelineValue variable(String name) {
        return here.scope().variable(name).orElseGet(() -> here.scope().unset("$" + name, name));
    }

    private Operation syncByVariables(Map<String, PipelineValue> with) {
        List<String> arguments =
                List.of(with.getOrDefault("args", PipelineValue.of("")).text().split("\\s+"));
        CommandLine options = CommandLine.of(
                arguments.stream().map(PipelineValue::of).toList(), Set.of("--delete", "--follow-symlinks"));
        return new Operation.Upload(
                here.scope().variable("SOURCE_DIR").orElse(PipelineValue.of(".")),
                new Target(
                        variable("AWS_S3_BUCKET"),
                        here.scope().variable("DEST_DIR").orElse(PipelineValue.of(""))),
                true,
                true,
                options.has("--delete"),
                options.text("--acl"),
                options.text("--cache-control"),
                options.order().stream()
                        .filter(option -> option.getKey().equals("--exclude")
                                || option.getKey().equals("--include"))
                        .map(option -> new Operation.Filter(
                                option.getKey().equals("--include"),
                                warden.core.algebra.Glob.parse(
                                        option.getValue().text().replaceAll("^['\"]|['\"]$", ""))))
                        .toList(),
                Optional.empty());
    }

    private static List<Operation> uploadAndInvalidate(Map<String, PipelineValue> with) {
        Operation upload = new Operation.Upload(
                with.getOrDefault("folder", PipelineValue.of(".")),
                new Target(
                        with.getOrDefault("bucket", PipelineValue.open("?", "the bucket")),
                        with.getOrDefault("bucket-prefix", PipelineValue.of(""))),
                true,
                true,
                with.getOrDefault("delete-removed", PipelineValue.of("false"))
                        .text()
                        .matches("true|.*\\*.*"),
                with.getOrDefault("private", PipelineValue.of("false")).text().equals("true")
                        ? Optional.empty()
                        : Optional.of("public-read"),
                Optional.ofNullable(with.get("cache")).map(seconds -> "max-age=" + seconds),
                List.of(),
                Optional.empty());
        PipelineValue distribution = with.get("dist-id");
        return distribution == null ? List.of(upload) : List.of(upload, new Operation.Invalidate(distribution, false));
    }
}
