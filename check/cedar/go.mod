module amberkeystone/check/cedar

go 1.26.0

require (
	amberkeystone v0.0.0
	github.com/cedar-policy/cedar-go v1.9.1
	github.com/stretchr/testify v1.12.1
)

require (
	github.com/go-json-experiment/json v1.27.2 // indirect
	go.yaml.in/yaml/v3 v3.0.5 // indirect
	golang.org/x/exp v0.0.0-20220921023135-46d9e7742f1e // indirect
)

replace amberkeystone => ../..
