#!/bin/sh
# Gathers what Gentle Warden looks at, by read-only calls of the provider's official command line (aws), into a folder of saved answers.
#   ./survey.sh [FOLDER]            default: answers
#   gentle-warden survey --folder answers -o survey.ndjson
# Interrupted and started again, it goes on where it was.
# ENDPOINT points every call elsewhere; OBJECTS says how many object names to list for each bucket (default 1000), OBJECT_DETAILS of how many
# of them to ask the headers and the access list (default 200).
set -u
folder=${1:-answers}
objects=${OBJECTS:-1000}
details=${OBJECT_DETAILS:-200}
command -v aws >/dev/null 2>&1 || { echo "survey.sh: the provider's command line (aws) is missing; install it first" >&2; exit 2; }
mkdir -p "$folder" || exit 2
AWS_PAGER=
export AWS_PAGER

call() { # call ASPECT SUBJECT COMMAND...: saves what is printed, or why not
    aspect=$1
    name=$(printf '%s' "$2" | encoded)
    shift 2
    # What an interrupted run has answered stays; what was refused is asked again.
    [ -s "$folder/${aspect}__$name.json" ] && return
    if aws ${ENDPOINT:+--endpoint-url "$ENDPOINT"} --output json "$@" >"$folder/.out" 2>"$folder/.err"; then
        mv "$folder/.out" "$folder/${aspect}__$name.json"
        rm -f "$folder/${aspect}__$name.error"
    else
        mv "$folder/.err" "$folder/${aspect}__$name.error"
        rm -f "$folder/${aspect}__$name.json"
    fi
    rm -f "$folder/.out" "$folder/.err"
}
list() { # list ASPECT SUBJECT QUERY COMMAND...: prints a list that is no answer of its own, a line each; saves why not if it is refused
    refused="$folder/${1}__$(printf '%s' "$2" | encoded).error"
    query=$3
    shift 3
    if aws ${ENDPOINT:+--endpoint-url "$ENDPOINT"} --output text --query "$query" "$@" >"$folder/.list" 2>"$folder/.why"; then
        rm -f "$refused"
    else
        mv "$folder/.why" "$refused"
    fi
    tr '\t' '\n' <"$folder/.list" | grep -v -e '^None$' -e '^$'
    rm -f "$folder/.list" "$folder/.why"
}
unasked() { # unasked ASPECT SUBJECT: says of an object that it lies beyond the limit
    printf 'An error occurred (NotAsked): limit of %s objects\n' "$details" >"$folder/${1}__$(printf '%s' "$2" | encoded).error"
}
ask() { # ask QUERY COMMAND...: prints a list that "call" has saved, or whose refusal it has, a line each
    query=$1
    shift
    aws ${ENDPOINT:+--endpoint-url "$ENDPOINT"} --output text --query "$query" "$@" 2>/dev/null | tr '\t' '\n' | grep -v -e '^None$' -e '^$'
}
saved() { # saved ASPECT SUBJECT MEMBER: prints the values of a member of an answer that was saved, a line each; for values without escapes
    sed -n 's/.*"'"$3"'": "\([^"\\]*\)".*/\1/p' "$folder/${1}__$(printf '%s' "$2" | encoded).json" 2>/dev/null
}
encoded() { # percent-encodes standard input, all but letters, digits and . _ - ~
    od -An -v -tx1 | tr -d '\n' | sed 's/  */ /g; s/^ //' | tr ' ' '\n' | while read -r byte || [ -n "$byte" ]; do
        case $byte in
            3[0-9] | 4[1-9a-f] | 5[0-9a] | 6[1-9a-f] | 7[0-9a] | 2d | 2e | 5f | 7e) printf "\\$(printf '%03o' "0x$byte")" ;;
            *) printf '%%%s' "$(printf '%s' "$byte" | tr 'a-f' 'A-F')" ;;
        esac
    done
}

account=$(ask Account sts get-caller-identity)
[ -n "$account" ] || { echo "survey.sh: the account cannot be reached, or refused the credentials; try: aws sts get-caller-identity" >&2; exit 4; }
before=$(cat "$folder/.account" 2>/dev/null)
[ -z "$before" ] || [ "$before" = "$account" ] || { echo "survey.sh: $folder holds answers of the account $before, and the credentials are of $account; name another folder" >&2; exit 2; }
printf '%s\n' "$account" >"$folder/.account"
[ -e "$folder/.complete" ] && { echo "survey.sh: $folder holds a whole survey already; name another folder, or remove it" >&2; exit 2; }
regions=$(aws configure get region 2>/dev/null || echo "${AWS_REGION:-us-east-1}")
call account-public-access "$account" s3control get-public-access-block --account-id "$account"
call account-summary "$account" iam get-account-summary
call bucket-list "$account" s3api list-buckets
call distribution-list "$account" cloudfront list-distributions
call zone-list "$account" route53 list-hosted-zones

for bucket in $(saved bucket-list "$account" Name); do
    arn=arn:aws:s3:::$bucket
    call bucket-location "$arn" s3api get-bucket-location --bucket "$bucket"
    call bucket-policy "$arn" s3api get-bucket-policy --bucket "$bucket"
    call bucket-public-access "$arn" s3api get-public-access-block --bucket "$bucket"
    call bucket-ownership "$arn" s3api get-bucket-ownership-controls --bucket "$bucket"
    call bucket-acl "$arn" s3api get-bucket-acl --bucket "$bucket"
    call bucket-website "$arn" s3api get-bucket-website --bucket "$bucket"
    call bucket-encryption "$arn" s3api get-bucket-encryption --bucket "$bucket"
    call bucket-versioning "$arn" s3api get-bucket-versioning --bucket "$bucket"
    call bucket-lifecycle "$arn" s3api get-bucket-lifecycle-configuration --bucket "$bucket"
    call bucket-logging "$arn" s3api get-bucket-logging --bucket "$bucket"
    call bucket-cors "$arn" s3api get-bucket-cors --bucket "$bucket"
    call bucket-payer "$arn" s3api get-bucket-request-payment --bucket "$bucket"
    call bucket-objects "$arn" s3api list-objects-v2 --bucket "$bucket" --max-items "$objects"
    regions="$regions $(saved bucket-location "$arn" LocationConstraint)"
    for key in $(saved bucket-encryption "$arn" KMSMasterKeyID); do
        case $key in arn:*) call key-policy "$key" kms get-key-policy --key-id "$key" --policy-name default --region "$(printf '%s' "$key" | cut -d: -f4)" ;; esac
    done
    owners=$(saved bucket-ownership "$arn" ObjectOwnership)
    number=0
    ask 'Contents[].Key' s3api list-objects-v2 --bucket "$bucket" --max-items "$objects" | while IFS= read -r key; do
        number=$((number + 1))
        if [ "$number" -gt "$details" ]; then
            unasked object "$arn/$key"
            [ "$owners" = BucketOwnerEnforced ] || unasked object-acl "$arn/$key"
            continue
        fi
        call object "$arn/$key" s3api head-object --bucket "$bucket" --key "$key"
        [ "$owners" = BucketOwnerEnforced ] || call object-acl "$arn/$key" s3api get-object-acl --bucket "$bucket" --key "$key"
    done
done

for id in $(ask 'DistributionList.Items[].Id' cloudfront list-distributions); do
    call distribution "arn:aws:cloudfront::$account:distribution/$id" cloudfront get-distribution --id "$id"
    one=Distribution.DistributionConfig.DefaultCacheBehavior
    more='Distribution.DistributionConfig.CacheBehaviors.Items[]'
    # All that it names by one call: what it is before what it is called.
    ask "[[$one.CachePolicyId,$more.CachePolicyId][] | [?@].join(' ',['cache-policy',@]),[$one.ResponseHeadersPolicyId,$more.ResponseHeadersPolicyId][] | [?@].join(' ',['response-headers-policy',@]),[$one.OriginRequestPolicyId,$more.OriginRequestPolicyId][] | [?@].join(' ',['origin-request-policy',@]),[$one.FunctionAssociations.Items[].FunctionARN,$more.FunctionAssociations.Items[].FunctionARN][] | [?@].join(' ',['edge-function',@])][]" cloudfront get-distribution --id "$id" | sort -u | while read -r what named; do
        case $what in
            edge-function) call edge-function "$named" cloudfront describe-function --name "${named##*/}" ;;
            cache-policy) call cache-policy "$named" cloudfront get-cache-policy --id "$named" ;;
            response-headers-policy) call response-headers-policy "$named" cloudfront get-response-headers-policy --id "$named" ;;
            origin-request-policy) call origin-request-policy "$named" cloudfront get-origin-request-policy --id "$named" ;;
        esac
    done
done
for id in $(list origin-identity 'origin-access-identity/*' 'CloudFrontOriginAccessIdentityList.Items[].Id' cloudfront list-cloud-front-origin-access-identities); do
    call origin-identity "origin-access-identity/$id" cloudfront get-cloud-front-origin-access-identity --id "$id"
done
for id in $(list origin-control 'origin-access-control/*' 'OriginAccessControlList.Items[].Id' cloudfront list-origin-access-controls); do
    call origin-control "origin-access-control/$id" cloudfront get-origin-access-control --id "$id"
done

for id in $(ask 'HostedZones[].Id' route53 list-hosted-zones); do
    call zone "${id#/}" route53 get-hosted-zone --id "${id##*/}"
    call zone-records "${id#/}" route53 list-resource-record-sets --hosted-zone-id "${id##*/}"
done
for domain in $(ask 'HostedZones[].Name' route53 list-hosted-zones | sed 's/\.$//') $(list domain '*' 'Domains[].DomainName' route53domains list-domains --region us-east-1); do
    [ -f "$folder/domain__$domain.json" ] || call domain "$domain" route53domains get-domain-detail --domain-name "$domain" --region us-east-1
done

call iam-details "$account" iam get-account-authorization-details
for user in $(ask 'UserDetailList[].Arn' iam get-account-authorization-details); do
    call iam-user-keys "$user" iam list-access-keys --user-name "${user##*/}"
    call iam-login "$user" iam get-login-profile --user-name "${user##*/}"
    call iam-user-mfa "$user" iam list-mfa-devices --user-name "${user##*/}"
    for key in $(ask 'AccessKeyMetadata[].AccessKeyId' iam list-access-keys --user-name "${user##*/}"); do
        call iam-key-used "$key" iam get-access-key-last-used --access-key-id "$key"
    done
done
for provider in $(list oidc-provider "arn:aws:iam::$account:oidc-provider/*" 'OpenIDConnectProviderList[].Arn' iam list-open-id-connect-providers); do
    call oidc-provider "$provider" iam get-open-id-connect-provider --open-id-connect-provider-arn "$provider"
done
target=$account
while [ -n "$target" ]; do # the account, the units above it, the root
    for policy in $(list organization-policy "$target" 'Policies[].Id' organizations list-policies-for-target --target-id "$target" --filter SERVICE_CONTROL_POLICY); do
        [ -f "$folder/organization-policy__$policy.json" ] || call organization-policy "$policy" organizations describe-policy --policy-id "$policy"
    done
    case $target in r-*) break ;; esac
    above=$(list organization-policy "$target/parents" 'Parents[].Id' organizations list-parents --child-id "$target")
    [ "$above" = "$target" ] && break
    target=$above
done

for region in $(printf '%s\n' us-east-1 $regions | sort -u); do
    for certificate in $(list certificate "arn:aws:acm:$region:$account:certificate/*" 'CertificateSummaryList[].CertificateArn' acm list-certificates --region "$region" --includes keyTypes=RSA_1024,RSA_2048,RSA_3072,RSA_4096,EC_prime256v1,EC_secp384r1,EC_secp521r1); do
        call certificate "$certificate" acm describe-certificate --certificate-arn "$certificate" --region "$region"
    done
    for pipeline in $(list delivery-pipeline "arn:aws:codepipeline:$region:$account:*" 'pipelines[].name' codepipeline list-pipelines --region "$region"); do
        call delivery-pipeline "arn:aws:codepipeline:$region:$account:$pipeline" codepipeline get-pipeline --name "$pipeline" --region "$region"
    done
    for app in $(list managed-app "arn:aws:amplify:$region:$account:apps/*" 'apps[].appId' amplify list-apps --region "$region"); do
        arn=arn:aws:amplify:$region:$account:apps/$app
        call managed-app "$arn" amplify get-app --app-id "$app" --region "$region"
        domains=$(list managed-app-domain "$arn/domains/*" 'domainAssociations[].domainName' amplify list-domain-associations --app-id "$app" --region "$region")
        for domain in $domains; do
            [ "$domain" = "$domains" ] && of=$arn || of=$arn/domains/$domain
            call managed-app-domain "$of" amplify get-domain-association --app-id "$app" --domain-name "$domain" --region "$region"
        done
    done
done
echo "survey.sh: $(ls "$folder" | wc -l) answers are in $folder" >&2
: >"$folder/.complete"
