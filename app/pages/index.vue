<template><h1>hello</h1></template>
