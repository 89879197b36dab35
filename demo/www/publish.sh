#!/bin/sh
# Publishes the ferries' pages, as the nightly job does. Rehearse it before you run it:
#   gentle-warden rehearse --survey demo/heron-sound-ferries.ndjson --as www-publisher -- demo/www/publish.sh
set -eu
cd "$(dirname "$0")"
aws sts get-caller-identity --query Arn --output text
aws s3 sync pages s3://heronferry-www-content/ --delete --no-progress --cache-control max-age=300
aws s3 cp pages/index.html s3://heronferry-www-content/index.html --no-progress --acl public-read
aws cloudfront create-invalidation --distribution-id E2WQ7HERONWWW --paths / /index.html --query Invalidation.Status --output text
